"""Whose a piece of music is, as its file says it."""

from pathlib import Path

import av
import av.error

from yarnkite.core.base.wording import one_line

CREDIT_LETTERS = 300
_MAKERS = ("artist", "composer", "album_artist", "author")
_TERMS = ("license", "copyright", "wcop")


def credit_of(path: Path) -> str:
    """Return a line such as “Slow Tide” by A. Piper, CC BY 4.0, from what a sound file says of itself (ID3, Vorbis
    comments, RIFF INFO, as the decoders read them); empty where it names neither a maker nor terms."""
    try:
        with av.open(str(path), metadata_errors="replace") as container:
            said = {**container.metadata}
            if container.streams.audio:
                # Ogg keeps them with the stream.
                said |= container.streams.audio[0].metadata
    except (av.error.FFmpegError, ValueError, OSError):
        return ""
    tags = {name.lower(): one_line(text) for name, text in said.items() if one_line(text)}
    maker = next((tags[name] for name in _MAKERS if name in tags), "")
    terms = next((tags[name] for name in _TERMS if name in tags), "")
    if not maker and not terms:
        return ""
    title = f"“{tags['title']}”" if "title" in tags else ""
    by = f"{title} by {maker}" if title and maker else title or maker
    return ", ".join(filter(None, (by, terms)))[:CREDIT_LETTERS]
