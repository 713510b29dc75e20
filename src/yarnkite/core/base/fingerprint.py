"""Fingerprints: 32 characters that tell the bytes of one file from those of another, and how they were made.

Sources: BLAKE3 (O'Connor, Aumasson, Neves, Wilcox-O'Hearn 2020), and BLAKE2b (RFC 7693) for what was gathered before
BLAKE3 was used, which takes a fraction of the time.
"""

import hashlib
from collections.abc import Iterable
from typing import Literal

import blake3

Kind = Literal["blake2b", "blake3"]
NEWEST: Kind = "blake3"
PATTERN = r"[0-9a-f]{29}(?:[0-9a-f]{3}|-b3)"
_BLAKE3_END = "-b3"


def kind_of(fingerprint: str) -> Kind:
    """Return how a fingerprint was made."""
    return "blake3" if fingerprint.endswith(_BLAKE3_END) else "blake2b"


def kinds_of(fingerprints: Iterable[str]) -> tuple[Kind, ...]:
    """Return the ways in which fingerprints were made, the oldest first; of none at all the newest."""
    return tuple(sorted({kind_of(one) for one in fingerprints})) or (NEWEST,)


def fingerprint(pieces: Iterable[bytes], kind: Kind = NEWEST) -> str:
    """Return the fingerprint of bytes, given in pieces: 116 bits of BLAKE3, or 128 of BLAKE2b."""
    state = blake3.blake3() if kind == "blake3" else hashlib.blake2b(digest_size=16)
    for piece in pieces:
        state.update(piece)
    if kind == "blake3":
        return state.hexdigest()[: 32 - len(_BLAKE3_END)] + _BLAKE3_END
    return state.hexdigest()
