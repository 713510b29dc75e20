"""A file of a card is copied only with proof, and a list of hashes is one that others can check."""

import hashlib
import os
import subprocess

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.errors import Conflict, Refusal
from yarnkite.core.gather import offload
from yarnkite.core.gather.locations import files_below
from yarnkite.core.gather.offload import CardAway, copy_with_proof, hash_list, is_card_there, read_hash_list


@pytest.fixture
def card(tmp_path):
    folder = tmp_path / "card"
    folder.mkdir()
    return folder


def put(card, name, data, modified_ns=1_700_000_000_000_000_000):
    path = card / name
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)
    os.utime(path, ns=(modified_ns, modified_ns))
    return next(one for one in files_below(card, card) if one.name == name)


# Nothing, less than a block of a disk, whole blocks, more than is read at once.
@pytest.mark.parametrize("size", [0, 1, 4095, 4096, 8 * 1024 * 1024, 8 * 1024 * 1024 + 4097, 17_000_001])
def test_a_copy_has_the_bytes_the_time_and_the_hash_of_the_file_on_every_target(card, tmp_path, size):
    data = os.urandom(size)
    file = put(card, "DCIM/a.jpg", data)
    targets = [tmp_path / "one" / "a.jpg", tmp_path / "two" / "b.jpg"]
    told = []
    assert copy_with_proof(card, file, targets, told.append) == hashlib.sha256(data).hexdigest()
    for target in targets:
        assert target.read_bytes() == data
        assert target.stat().st_mtime_ns == file.modified_ns
    assert sum(told) == size
    assert not list(tmp_path.rglob("*.part"))


def test_bytes_that_a_disk_gives_back_otherwise_are_noticed_and_nothing_stays(card, tmp_path, monkeypatch):
    file = put(card, "a.jpg", b"light" * 1000)
    whole = offload._read_past_memory

    def one_bit_off(path, take):
        data = bytearray(path.read_bytes())
        data[2500] ^= 1
        path.write_bytes(data)
        whole(path, take)

    monkeypatch.setattr(offload, "_read_past_memory", one_bit_off)
    with pytest.raises(Refusal, match="as other bytes than were written"):
        copy_with_proof(card, file, [tmp_path / "to" / "a.jpg"])
    assert not [path for path in (tmp_path / "to").rglob("*") if path.is_file()]


def test_where_the_memory_cannot_be_passed_the_copy_is_proven_all_the_same(card, tmp_path, monkeypatch):
    def refused(path, take):
        raise OSError(22, "Invalid argument")

    monkeypatch.setattr(offload, "_read_past_memory", refused)
    file = put(card, "a.jpg", b"light" * 3_000_000)
    said = copy_with_proof(card, file, [tmp_path / "a.jpg"])
    assert said == hashlib.sha256(b"light" * 3_000_000).hexdigest()


def test_a_copy_of_an_earlier_run_is_proven_anew_and_another_file_is_never_replaced(card, tmp_path):
    file = put(card, "a.jpg", b"light")
    target = tmp_path / "to" / "a.jpg"
    copy_with_proof(card, file, [target])
    before = target.stat().st_ino
    copy_with_proof(card, file, [target, tmp_path / "second" / "a.jpg"])
    assert target.stat().st_ino == before
    assert (tmp_path / "second" / "a.jpg").read_bytes() == b"light"
    target.write_bytes(b"lives")
    with pytest.raises(Conflict, match="another file called"):
        copy_with_proof(card, file, [target])
    assert target.read_bytes() == b"lives"


def test_a_file_that_changed_or_is_gone_is_told_from_one_that_was_copied(card, tmp_path):
    file = put(card, "a.jpg", b"light")
    put(card, "a.jpg", b"night", modified_ns=1)
    with pytest.raises(CardAway, match="not the file it was"):
        copy_with_proof(card, file, [tmp_path / "a.jpg"])
    (card / "a.jpg").unlink()
    with pytest.raises(CardAway):
        copy_with_proof(card, file, [tmp_path / "a.jpg"])
    (card / "a.jpg").symlink_to("/etc/hostname")
    with pytest.raises(Refusal):
        copy_with_proof(card, file, [tmp_path / "a.jpg"])
    assert not (tmp_path / "a.jpg").exists()


def test_a_card_is_known_by_its_files_and_another_one_in_its_place_is_not_it(card):
    files = [put(card, f"{number}.jpg", b"x" * number) for number in range(1, 100)]
    assert is_card_there(card, files)
    # Some files that are gone make no other card.
    for file in files[:60]:
        (card / file.name).unlink()
    assert is_card_there(card, files)
    for number in range(1, 100):
        put(card, f"{number}.jpg", b"x" * number, modified_ns=number)
    assert not is_card_there(card, files)


def test_others_can_check_a_list_of_hashes(tmp_path):
    names = ["a.jpg", "in a folder/b c.jpg", "odd\nname.jpg", "back\\slash.jpg", "ünïcode.jpg"]
    for name in names:
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_bytes(name.encode())
    said = {name: hashlib.sha256(name.encode()).hexdigest() for name in names}
    (tmp_path / "hashes.sha256").write_text(hash_list(said))
    check = ["sha256sum", "--check", "--strict", "hashes.sha256"]
    assert subprocess.run(check, cwd=tmp_path, check=False).returncode == 0
    (tmp_path / "a.jpg").write_bytes(b"other")
    assert subprocess.run(check, cwd=tmp_path, check=False).returncode == 1


@given(st.dictionaries(st.text(st.characters(exclude_characters="\0", codec="utf-8"), min_size=1), st.just("ab" * 32)))
def test_a_list_of_hashes_reads_back_as_it_was(hashes):
    assert read_hash_list(hash_list(hashes)) == hashes
