"""Fingerprints: the published functions, however the bytes come, and those of earlier editions told apart."""

import hashlib
import re

import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.fingerprint import PATTERN, fingerprint, kind_of, kinds_of
from yarnkite.core.base.safe_open import has_fingerprint

# Inputs of 0, 1, 2 … 250, 0, 1 … as in the published test vectors of BLAKE3.
VECTORS = {
    0: "af1349b9f5f9a1a6a0404dea36dcc9499bcb25c9adc112b7cc9a93cae41f3262",
    1: "2d3adedff11b61f14c886e35afa036736dcd87a74d27b5c1510225d0f592e213",
    1024: "42214739f095a406f3fc83deb889744ac00df831c10daa55189b5d121c855af7",
}


@pytest.mark.parametrize("length", VECTORS)
def test_the_newest_is_the_published_function(length):
    data = bytes(number % 251 for number in range(length))
    assert fingerprint((data,)) == VECTORS[length][:29] + "-b3"


@given(data=some.binary(max_size=4000), cut=some.integers(0, 4000), kind=some.sampled_from(["blake2b", "blake3"]))
def test_it_is_the_same_in_pieces_and_says_how_it_was_made(data, cut, kind):
    whole = fingerprint((data,), kind)
    assert fingerprint((data[:cut], data[cut:]), kind) == whole
    assert kind_of(whole) == kind
    assert len(whole) == 32


def test_both_are_found_among_files_and_the_oldest_is_named_first(tmp_path):
    (tmp_path / "a.jpg").write_bytes(b"some bytes")
    old, new = hashlib.blake2b(b"some bytes", digest_size=16).hexdigest(), fingerprint((b"some bytes",))
    assert has_fingerprint(tmp_path / "a.jpg", old)
    assert has_fingerprint(tmp_path / "a.jpg", new)
    assert not has_fingerprint(tmp_path / "a.jpg", fingerprint((b"other bytes",)))
    assert kinds_of([new, old, new]) == ("blake2b", "blake3")
    assert kinds_of([old]) == ("blake2b",)
    assert kinds_of([]) == ("blake3",)


def test_a_pattern_knows_both_and_nothing_else():
    for kind in ("blake2b", "blake3"):
        assert re.fullmatch(PATTERN, fingerprint((b"x",), kind))
    assert not re.fullmatch(PATTERN, "0" * 31)
    assert not re.fullmatch(PATTERN, "../" + "0" * 29)
