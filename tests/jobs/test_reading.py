"""What a clip of a folder reads of each still before it begins."""

import os
from pathlib import Path

from tests.conftest import write_jpeg
from yarnkite.core.base.fingerprint import fingerprint
from yarnkite.jobs.reading import read_still_facts


def test_files_are_known_by_their_bytes_only_where_they_are_compared(tmp_path):
    for name in ("A_1.jpg", "A_2.jpg"):
        write_jpeg(tmp_path / name, 3)
    compared = [read_still_facts(tmp_path, name, compares=True)[0].fingerprint for name in ("A_1.jpg", "A_2.jpg")]
    assert compared == [fingerprint([(tmp_path / "A_1.jpg").read_bytes()])] * 2
    as_they_lie = {read_still_facts(tmp_path, name)[0].fingerprint for name in ("A_1.jpg", "A_2.jpg")}
    assert len(as_they_lie) == 2
    assert not as_they_lie & set(compared)


def test_a_file_written_over_is_another_though_its_size_and_time_are_put_back(tmp_path):
    path = tmp_path / "A_1.jpg"
    write_jpeg(path, 3)
    before, _ = read_still_facts(tmp_path, path.name)
    status, data = path.stat(), path.read_bytes()
    assert read_still_facts(tmp_path, path.name)[0] == before
    path.write_bytes(data[:-20] + bytes(18) + data[-2:])
    os.utime(path, ns=(status.st_atime_ns, status.st_mtime_ns))
    after, _ = read_still_facts(tmp_path, path.name)
    assert (after.bytes, after.modified_ns) == (before.bytes, before.modified_ns)
    assert after.fingerprint != before.fingerprint


def test_no_more_than_the_beginning_of_a_jpeg_is_read(tmp_path):
    path = tmp_path / "A_1.jpg"
    write_jpeg(path, 3)
    whole, _ = read_still_facts(tmp_path, path.name)
    # A hundred megabytes that are not there: reading them would show.
    with path.open("ab") as file:
        file.truncate(100_000_000)
    read = _bytes_read()
    still, _ = read_still_facts(tmp_path, path.name)
    assert _bytes_read() - read < 1_000_000
    assert (still.width, still.height) == (whole.width, whole.height)


def _bytes_read() -> int:
    """Return how many bytes this process has asked for until now, by the system's own count."""
    with Path("/proc/self/io").open() as told:
        return int(next(line for line in told if line.startswith("rchar")).split()[1])
