"""The frames of a reel: which still of which shot each shows, to the frame; mixed as light adds up."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.reel.reels import SMALL, clip, frames_of, part, reel_of
from tests.eight_bits import picture
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.render_plan import chunks
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.reel.decisions import Area, Fades, Join, Part, Picture
from yarnkite.core.reel.timing import spans
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import mark

DISSOLVE = Join(kind="dissolve", frames=4)


def seen(frames, frame, x=0.5, y=0.5):
    """Return the colour of a frame at a place."""
    image = picture(frames.spec(frame))
    return tuple(int(value) for value in image[int(y * image.shape[0]), int(x * image.shape[1])])


def shown(frames):
    """Return shot and still of each frame, told from its colour."""
    return [(red, green // 4) for red, green, _ in (seen(frames, frame) for frame in range(len(frames)))]


def test_shots_come_one_after_another_and_the_same_one_may_come_twice(tmp_path):
    one, two = clip(tmp_path, 3, 40), clip(tmp_path, 2, 90)
    frames = frames_of(reel_of(part(1), part(2), part(3)), one, two, one)
    assert shown(frames) == [(40, 0), (40, 1), (40, 2), (90, 0), (90, 1), (40, 0), (40, 1), (40, 2)]
    with pytest.raises(IndexError):
        frames.spec(len(frames))


def test_a_stretch_shows_its_frames_alone(tmp_path):
    frames = frames_of(reel_of(part(1)), clip(tmp_path, 9, 40, first=3, frames=4))
    assert shown(frames) == [(40, 3), (40, 4), (40, 5), (40, 6)]


def test_a_part_whose_shot_is_gone_is_left_out_and_the_rest_goes_on(tmp_path):
    frames = frames_of(
        reel_of(part(1), part(2, join=DISSOLVE), part(3)), clip(tmp_path, 2, 40), None, clip(tmp_path, 2, 90)
    )
    assert shown(frames) == [(40, 0), (40, 1), (90, 0), (90, 1)]


@pytest.mark.parametrize(("rate", "length"), [("25", 10), ("50", 20), ("24", 10), ("30000/1001", 12)])
def test_a_shot_of_another_rate_keeps_its_length(tmp_path, rate, length):
    frames = frames_of(reel_of(part(1), rate=parse_rate(rate)), clip(tmp_path, 10, 40))
    assert len(frames) == length
    at = [still for _, still in shown(frames)]
    assert at == [min(9, int(frame * 25 / Fraction(parse_rate(rate)))) for frame in range(length)]


def test_29_97_in_30_is_frame_for_frame_and_so_is_what_is_decided_to_be(tmp_path):
    odd = clip(tmp_path, 10, 40, rate=parse_rate("29.97"))
    frames = frames_of(reel_of(part(1), rate=parse_rate("30")), odd)
    assert [still for _, still in shown(frames)] == list(range(10))
    frames = frames_of(reel_of(part(1), rate=parse_rate("50"), timing="frames"), clip(tmp_path, 10, 60))
    assert [still for _, still in shown(frames)] == list(range(10))


def test_a_dissolve_mixes_light_evenly_from_one_to_the_other(tmp_path):
    frames = frames_of(reel_of(part(1, join=DISSOLVE), part(2)), clip(tmp_path, 10, 20), clip(tmp_path, 10, 220))
    assert len(frames) == 16
    assert [seen(frames, frame)[0] for frame in (5, 10)] == [20, 220]
    for step, frame in enumerate(range(6, 10), 1):
        light = (1 - step / 5) * to_light(np.array(20 / 255)) + step / 5 * to_light(np.array(220 / 255))
        exact = 255 * float(to_codes(np.array(light)))
        assert abs(seen(frames, frame)[0] - exact) <= 0.5
        assert frames.shown(frame)[0] == 1


def test_a_dip_goes_to_its_colour_and_comes_back_without_changing_the_length(tmp_path):
    dip = Join(kind="dip", frames=8, colour="#ffffff")
    frames = frames_of(reel_of(part(1, join=dip), part(2)), clip(tmp_path, 10, 20), clip(tmp_path, 10, 20))
    assert len(frames) == 20
    blue = [seen(frames, frame)[2] for frame in range(20)]
    assert blue[:6] == [60] * 6
    assert blue[14:] == [60] * 6
    assert blue[6:10] == sorted(blue[6:10])
    assert blue[6:14] == blue[6:14][::-1]
    assert blue[9] > 235


@given(
    lengths=st.lists(st.integers(0, 12), min_size=1, max_size=6),
    joins=st.lists(st.sampled_from(["cut", "dissolve", "dip"]), min_size=6, max_size=6),
    over=st.integers(1, 40),
)
def test_parts_follow_without_a_hole_and_never_three_at_a_time(lengths, joins, over):
    reel = reel_of(*(part(n + 1, join=Join(kind=joins[n], frames=over)) for n in range(len(lengths))))
    found = [span for span in spans(reel, lengths) if span.frames]
    end = max((span.end for span in found), default=0)
    covered = [sum(span.start <= frame < span.end for span in found) for frame in range(end)]
    assert all(1 <= count <= 2 for count in covered)
    for one in found:
        alone = [frame for frame in range(one.start, one.end) if covered[frame] == 1]
        assert alone, "every part has a frame of its own"
    assert sum(covered) == sum(lengths)


def test_two_lie_beside_each_other_each_fitted_to_its_half(tmp_path):
    one, two = clip(tmp_path, 6, 40), clip(tmp_path, 3, 90)
    pictures = (Picture(shot=1), Picture(shot=2, wait=1, after="loop"))
    frames = frames_of(reel_of(Part(id=1, pictures=pictures, arrangement="halves")), (one, two))
    assert [seen(frames, frame, 0.2)[1] // 4 for frame in range(6)] == [0, 1, 2, 3, 4, 5]
    assert [seen(frames, frame, 0.8)[1] // 4 for frame in range(6)] == [0, 0, 1, 2, 0, 1]
    # The border lies between two pixels, and each half is cut from the middle of its stills, not squeezed.
    left, right = frames.spec(0).scenes[0][0].tiles
    assert (left.spec.finish.size, right.left) == (Size(width=80, height=90), 80)
    source = left.spec.layers[0][0].placement.source
    assert source.width / source.height == Fraction(80, 90)


@pytest.mark.parametrize(("after", "last"), [("hold", 90), ("loop", 90), ("nothing", 0)])
def test_the_shorter_of_two_is_held_begins_again_or_ends(tmp_path, after, last):
    pictures = (Picture(shot=1), Picture(shot=2, after=after))
    made = Part(id=1, pictures=pictures, arrangement="corner")
    frames = frames_of(reel_of(made), (clip(tmp_path, 6, 40), clip(tmp_path, 2, 90)))
    assert seen(frames, 5, 0.8, 0.8)[0] == (last or 40)
    assert seen(frames, 5, 0.2, 0.2) == (40, 20, 60)


@pytest.mark.parametrize("arrangement", ["halves", "thirds", "stacked", "quarters", "corner", "free"])
@pytest.mark.parametrize("width", [480, 322, 158])
def test_beside_each_other_also_on_another_grid_without_a_hole(tmp_path, arrangement, width):
    pictures = tuple(
        Picture(shot=1, area=Area(left=0.5 * (n % 2), top=0.5 * (n // 2), width=0.5, height=0.5)) for n in range(4)
    )
    count = {"halves": 2, "thirds": 3, "stacked": 2, "quarters": 4, "corner": 2, "free": 4}[arrangement]
    made = Part(id=1, pictures=pictures[:count], arrangement=arrangement, colour="#ff00ff")
    frames = frames_of(reel_of(made), (clip(tmp_path, 1, 40),) * count)
    image = picture(frames.spec(0), Size(width=width, height=round(width * 9 / 32) * 2))
    assert (image == image[0, 0]).all()


def test_fades_of_the_whole_begin_and_end_in_their_colour(tmp_path):
    fades = Fades(picture_in=4, picture_out=2, colour="#0000ff")
    frames = frames_of(reel_of(part(1), fades=fades), clip(tmp_path, 10, 200))
    red = [seen(frames, frame)[0] for frame in range(10)]
    assert red[:4] == sorted(red[:4])
    assert red[4:8] == [200] * 4
    assert red[8] > red[9] > 0
    light = float(to_light(np.array(200 / 255))) * 1 / 8
    assert abs(red[0] - 255 * float(to_codes(np.array(light)))) <= 0.5


def test_frames_that_nothing_changes_have_the_clips_own_mark_and_whole_chunks_its_names(tmp_path):
    one, two = clip(tmp_path, 30, 40, rate=parse_rate("5")), clip(tmp_path, 33, 90, rate=parse_rate("5"))
    reel = reel_of(part(1, join=DISSOLVE), part(2), rate=parse_rate("5"))
    frames = frames_of(reel, one, two)
    own = ClipFrames(two.recipe)
    assert [mark(frames.spec(30 + frame)) for frame in range(29)] == [mark(own.spec(4 + frame)) for frame in range(29)]
    encode = Encode(preset="ultrafast")
    of_clips = {part.key for recipe in (one.recipe, two.recipe) for part in chunks(ClipFrames(recipe), encode)}
    cut = chunks(frames, encode)
    assert sum(part.frames for part in cut) == len(frames)
    # Frames 26 to 29 dissolve: the last chunk of the first clip and the first of the second are others.
    assert [part.key in of_clips for part in cut] == [True, True, False, False, True, True, True]


def test_the_same_reel_at_its_clips_size_is_the_clips_pixels(tmp_path):
    one = clip(tmp_path, 3, 40)
    frames = frames_of(reel_of(part(1)), one)
    assert frames.size == SMALL
    assert np.array_equal(picture(frames.spec(2)), picture(ClipFrames(one.recipe).spec(2)))
