"""What is odd about stills, in sentences: each once, with a file by its name, and how many."""

from yarnkite.core.gather.remarks import Alike, remarks


def stills(count, bits=8, remark=None, name="card/MRW_000.png"):
    return Alike(count, name, bits, remark)


def test_of_sound_stills_nothing_is_said():
    assert remarks([stills(30)]) == []
    assert remarks([]) == []
    # Stills gathered before their depth was kept.
    assert remarks([stills(1, None), stills(3)]) == []


def test_one_still_of_another_depth_among_many_is_named():
    (said,) = remarks([stills(499), stills(1, 16, name="card/odd.png")])
    assert said.startswith("One still has 16 bits a sample where the others have 8: “odd.png”.")
    assert remarks([stills(10), stills(9, 16)]) == []
    # Oddness of another kind does not make a depth another one.
    assert len(remarks([stills(9), stills(1, 8, "gain map")])) == 1


def test_each_thing_is_said_once_with_how_many_and_what_can_be_done():
    shot = [stills(3), stills(2, remark="gain map"), stills(1, 8, "cut light")]
    gains, cut = remarks(shot)
    assert gains.startswith("2 of 6 stills carry maps of gains")
    assert "such as “MRW_000.png”" in gains
    assert cut.startswith("One still holds light below black or beyond white")
    (whole,) = remarks([stills(12, 16, "no matrix")])
    assert whole.startswith("All 12 stills are raw files of a camera")
