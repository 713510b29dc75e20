"""Where everything lies: the folders below the data folder."""

from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.gather.proxies import Proxies

_MADE = ("chunks", "proxies", "clips", "stills", "arriving", "together", "sounds", "shown", "films")
# Whatever else lies in the data folder is not ours to close.
_OURS = (*_MADE, "database", "demo")


@dataclass(frozen=True)
class Workspace:
    """The data folder and the names of what is in it."""

    folder: Path

    @property
    def database(self) -> Path:
        return self.folder / "database"

    @property
    def demo(self) -> Path:
        return self.folder / "demo"

    @property
    def locations(self) -> Path:
        return self.folder / "locations.json"

    @property
    def earlier_locations(self) -> Path:
        """Where they were kept under another word."""
        return self.folder / "places.json"

    @property
    def chunks(self) -> Path:
        return self.folder / "chunks"

    @property
    def together(self) -> Path:
        """Where what stretches of stills have in common is kept."""
        return self.folder / "together"

    @property
    def proxies(self) -> Proxies:
        return Proxies(self.folder / "proxies")

    @property
    def sounds(self) -> Path:
        return self.folder / "sounds"

    def sound(self, fingerprint: str) -> Path:
        """Return where the samples of a sound are kept; sounds of many projects that are alike are kept once."""
        return self.sounds / f"{fingerprint}.f32"

    def logo(self, fingerprint: str) -> Path:
        """Return where a picture is kept that lies over reels."""
        return self.sounds / f"{fingerprint}.png"

    def stills(self, upload_id: int) -> Path:
        """Return the folder that keeps the uploaded stills of one shot."""
        return self.folder / "stills" / str(upload_id)

    def copied(self, shot_id: int) -> Path:
        """Return the folder that keeps the stills of one shot, copied from elsewhere on this machine."""
        return self.folder / "stills" / f"shot-{shot_id}"

    def arriving(self, upload_id: int) -> Path:
        """Return the folder for files that are still being uploaded."""
        return self.folder / "arriving" / str(upload_id)

    @property
    def films(self) -> Path:
        return self.folder / "films"

    def film(self, upload_id: int) -> Path:
        """Return the folder that keeps a film that was sent, which stills are taken from."""
        return self.films / str(upload_id)

    def clip(self, job_id: int) -> Path:
        """Return the file a job made, whatever its kind; where there is none, a name that leads nowhere."""
        folder = self.folder / "clips"
        return next(iter(sorted(folder.glob(f"{job_id}.[a-z0-9]*"))), folder / f"{job_id}.none")

    def new_clip(self, job_id: int, ending: str) -> Path:
        """Return where the file of a job is to be made."""
        return self.folder / "clips" / f"{job_id}.{ending}"

    def shown(self, clip_id: int) -> Path:
        """Return where the stand-in of a clip is kept that a browser cannot play itself."""
        return self.folder / "shown" / f"{clip_id}.mp4"

    def create(self) -> None:
        """Make the folders that must be there, and clear away what a killed process left half-written."""
        for name in _MADE:
            (self.folder / name).mkdir(parents=True, exist_ok=True)
        # Nobody else of this machine has any business in these; a folder that is closed closes all that is in it.
        for name in _OURS:
            if (self.folder / name).is_dir():
                (self.folder / name).chmod(0o700)
        for pattern in ("*.part", "*.note"):
            for leftover in self.chunks.glob(pattern):
                leftover.unlink(missing_ok=True)
        for name in ("clips", "sounds", "shown"):
            for leftover in (self.folder / name).glob("*.part"):
                leftover.unlink(missing_ok=True)
