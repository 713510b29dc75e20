"""What is odd about stills, in sentences: each once, with a file by its name, and how many."""

from yarnkite.core.gather.remarks import Odd, remarks


def stills(count, bits=8, remark=None):
    return [Odd(f"card/MRW_{number:03}.png", bits, remark) for number in range(count)]


def test_of_sound_stills_nothing_is_said():
    assert remarks(stills(30)) == []
    assert remarks([]) == []
    # Stills gathered before their depth was kept.
    assert remarks([Odd("a.jpg", None, None), *stills(3)]) == []


def test_one_still_of_another_depth_among_many_is_named():
    (said,) = remarks([*stills(499), Odd("card/odd.png", 16, None)])
    assert said.startswith("One still has 16 bits a sample where the others have 8: “odd.png”.")
    assert remarks([*stills(10), *(Odd(f"b{n}.tif", 16, None) for n in range(9))]) == []


def test_each_thing_is_said_once_with_how_many_and_what_can_be_done():
    shot = [*stills(3), *stills(2, remark="gain map"), *stills(1, remark="cut light")]
    gains, cut = remarks(shot)
    assert gains.startswith("2 of 6 stills carry maps of gains")
    assert "such as “MRW_000.png”" in gains
    assert cut.startswith("One still holds light below black or beyond white")
    (whole,) = remarks(stills(12, bits=16, remark="no matrix"))
    assert whole.startswith("All 12 stills are raw files of a camera")
