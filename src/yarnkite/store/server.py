"""The database server: MariaDB on loopback with a data folder and a random password of its own."""

import contextlib
import ctypes
import os
import secrets
import shutil
import signal
import socket
import subprocess
import threading
import time
from dataclasses import dataclass
from pathlib import Path

import pymysql

from yarnkite.core.base.errors import Refusal

USER = SCHEMA = "yarnkite"
START_TIMEOUT_S = 60
_PR_SET_PDEATHSIG = 1


class DatabaseDidNotStart(Refusal):
    """MariaDB is missing or did not come up; the sentence says why and what to do."""

    def __init__(self, sentence: str) -> None:
        super().__init__("no_database", sentence)


@dataclass(frozen=True)
class Address:
    """Where the database answers, and as whom to ask."""

    host: str
    port: int
    password: str


class DatabaseServer:
    """Starts MariaDB on a data folder, starts it again if it dies, and stops it cleanly."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.address = Address("127.0.0.1", 0, "")
        self._process: subprocess.Popen[bytes] | None = None
        self._stopping = threading.Event()

    def start(self) -> Address:
        """Start the server and wait until it answers; raises ``DatabaseDidNotStart``."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        if not (self.folder / "files" / "mysql").is_dir():
            self._create()
        self.address = Address("127.0.0.1", _free_port(), self._password())
        self._launch()
        self._wait_until_it_answers()
        threading.Thread(target=self._watch, name="database-watch", daemon=True).start()
        return self.address

    def stop(self) -> None:
        """Shut the server down cleanly and wait for it."""
        self._stopping.set()
        if self._process and self._process.poll() is None:
            self._process.terminate()
            try:
                self._process.wait(timeout=30)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait()

    @property
    def pid(self) -> int | None:
        return self._process.pid if self._process else None

    def _create(self) -> None:
        unfinished = self.folder / "files.part"
        shutil.rmtree(unfinished, ignore_errors=True)
        result = subprocess.run(
            [
                _program("mariadb-install-db"),
                "--no-defaults",
                f"--datadir={unfinished}",
                f"--user={_user_name()}",
                "--auth-root-authentication-method=normal",
                "--skip-test-db",
            ],
            capture_output=True,
            text=True,
            check=False,
            env=self._surroundings(),
        )
        if result.returncode != 0:
            raise DatabaseDidNotStart(
                f"The database could not be set up in {unfinished}:\n{result.stdout}{result.stderr}"
            )
        shutil.rmtree(self.folder / "files", ignore_errors=True)
        unfinished.rename(self.folder / "files")

    def _surroundings(self) -> dict[str, str]:
        """Return the environment of the database, with a folder of its own for what it needs for a moment.

        One that starts clears such files away, also those of another that runs beside it.
        """
        temporary = self.folder / "temporary"
        temporary.mkdir(exist_ok=True)
        return os.environ | {"TMPDIR": str(temporary)}

    def _password(self) -> str:
        path = self.folder / "password"
        if not path.exists():
            path.touch(mode=0o600)
            path.write_text(secrets.token_urlsafe(24))
        return path.read_text().strip()

    def _launch(self) -> None:
        start_sql = self.folder / "start.sql"
        start_sql.touch(mode=0o600)
        start_sql.write_text(
            f"CREATE DATABASE IF NOT EXISTS {SCHEMA} CHARACTER SET utf8mb4;\n"
            f"CREATE USER IF NOT EXISTS '{USER}'@'127.0.0.1';\n"
            f"ALTER USER '{USER}'@'127.0.0.1' IDENTIFIED BY '{self.address.password}';\n"
            f"GRANT ALL ON {SCHEMA}.* TO '{USER}'@'127.0.0.1';\n"
            "ALTER USER 'root'@'localhost' ACCOUNT LOCK;\n"
        )
        with (self.folder / "log.txt").open("ab") as log:
            self._process = subprocess.Popen(
                [
                    _program("mariadbd"),
                    "--no-defaults",
                    f"--user={_user_name()}",
                    f"--datadir={self.folder / 'files'}",
                    f"--socket={_socket_path()}",
                    f"--pid-file={self.folder / 'pid'}",
                    f"--init-file={start_sql}",
                    "--bind-address=127.0.0.1",
                    f"--port={self.address.port}",
                    "--skip-name-resolve",
                    "--skip-log-bin",
                    "--innodb-buffer-pool-size=64M",
                    "--performance-schema=OFF",
                    "--max-allowed-packet=64M",
                    "--max-connections=60",
                    "--sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO",
                ],
                stdout=log,
                stderr=log,
                stdin=subprocess.DEVNULL,
                env=self._surroundings(),
                # Ctrl-C reaches the whole group: the database must outlive the server that stops it cleanly.
                start_new_session=True,
                preexec_fn=_end_with_parent,
            )

    def _wait_until_it_answers(self) -> None:
        deadline = time.monotonic() + START_TIMEOUT_S
        while time.monotonic() < deadline:
            if self._process is not None and self._process.poll() is not None:
                # A server that was killed leaves its database closing down; the folder is free a moment later.
                time.sleep(0.3)
                self._launch()
            with contextlib.suppress(pymysql.err.OperationalError):
                pymysql.connect(
                    host=self.address.host,
                    port=self.address.port,
                    user=USER,
                    password=self.address.password,
                    database=SCHEMA,
                    connect_timeout=2,
                    ssl_disabled=True,
                ).close()
                return
            time.sleep(0.05)
        raise DatabaseDidNotStart(f"MariaDB did not answer within {START_TIMEOUT_S} s; see {self.folder / 'log.txt'}.")

    def _watch(self) -> None:
        while not self._stopping.wait(0.5):
            if self._process is not None and self._process.poll() is not None:
                self._launch()


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _socket_path() -> Path:
    # A socket's path may have 107 bytes only, so it cannot lie in just any data folder.
    return Path(os.environ.get("XDG_RUNTIME_DIR", "/tmp"), f"yarnkite-{os.getpid()}-{secrets.token_hex(4)}.sock")


def _user_name() -> str:
    import pwd

    return pwd.getpwuid(os.geteuid()).pw_name


def _program(name: str) -> str:
    path = shutil.which(name, path=os.environ.get("PATH", "") + ":/usr/sbin:/usr/bin")
    if path is None:
        raise DatabaseDidNotStart(f"{name} is missing. Install it with: apt-get install mariadb-server-core")
    return path


def _end_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
