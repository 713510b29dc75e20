"""Which sidecar belongs to which still, and what several of one say together."""

from pathlib import Path

from tests.core.image.test_xmp import packet
from yarnkite.core.gather.remarks import remarks_beside
from yarnkite.core.gather.sidecars import Sidecar, new_sidecars, newest, read_sidecar, stills_of


def test_sidecars_belong_to_the_still_whose_name_they_have():
    stills = {"A_1.JPG": 1, "b/A_1.JPG": 2, "A_10.DNG": 3}
    names = ["A_1.xmp", "A_1.JPG.xmp", "b/A_1.XMP", "A_10.DNG.pp3", "A_1.CR3.xmp", "A_100.xmp", "c/A_1.xmp"]
    assert stills_of(names, stills) == {
        "A_1.xmp": 1,
        "A_1.JPG.xmp": 1,
        "b/A_1.XMP": 2,
        "A_10.DNG.pp3": 3,
        "A_1.CR3.xmp": 1,
    }


def test_of_two_stills_of_one_stem_each_has_its_own():
    stills = {"A_1.JPG": 1, "A_1.PNG": 2, "A_2.JPG": 3}
    assert stills_of(["A_1.PNG.xmp", "A_1.JPG.xmp"], stills) == {"A_1.PNG.xmp": 2, "A_1.JPG.xmp": 1}
    assert new_sidecars(stills) == {1: "A_1.JPG.xmp", 2: "A_1.PNG.xmp", 3: "A_2.xmp"}


def test_edits_in_forms_of_other_programs_are_noticed_and_damage_costs_a_sentence(tmp_path: Path):
    (tmp_path / "a.pp3").write_text("[Exposure]")
    (tmp_path / "a.xmp").write_text("torn")
    (tmp_path / "b.xmp").write_text(packet('xmp:Rating="2"'))
    assert read_sidecar(tmp_path, "a.pp3").has_edits
    assert "“a.xmp”" in read_sidecar(tmp_path, "a.xmp").trouble
    found = read_sidecar(tmp_path, "b.xmp")
    assert (found.rating, found.has_edits, found.bytes) == (2, False, (tmp_path / "b.xmp").stat().st_size)


def test_the_sidecar_that_was_changed_last_counts_where_it_speaks():
    old = Sidecar("a.jpg.xmp", 1, 10, rating=1, label="old", has_edits=True)
    new = Sidecar("a.xmp", 1, 20, rating=4)
    torn = Sidecar("a.pp3", 1, 30, trouble="torn")
    assert newest([torn, new, old]) == Sidecar("a.xmp", 1, 20, rating=4, label="old", has_edits=True)


def test_what_lies_beside_and_cannot_be_read_is_told_with_what_to_do():
    many, few = ["A_1.DNG", "A_2.DNG"], ["A_1.DNG"]
    assert remarks_beside([], [], 9, has_pairs=True) == []
    (said,) = remarks_beside(many, [], 2, has_pairs=False)
    assert said.startswith("All 2 stills have with them notes of another program, which may be edits")
    assert "save developed pictures" in said
    (said,) = remarks_beside(few, [], 9, has_pairs=True)
    assert said.startswith("One still has with it notes")
    assert "“A_1.DNG”" in said
    assert "beside the raw files" in said
    assert remarks_beside([], ["One is torn.", "b", "c"], 9, has_pairs=True) == [
        "One is torn. 2 other sidecars cannot be read either."
    ]
