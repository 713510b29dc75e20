"""Titles: where they were put, when they were asked for, shaped as their script asks, the same at every size."""

import numpy as np
import pytest
from PIL import Image

from tests.core.reel.reels import clip, frames_of, part, reel_of
from tests.eight_bits import picture
from yarnkite.core.base.frozen import Size
from yarnkite.core.image.lettering import FACES, lettering, missing
from yarnkite.core.image.overlay import colour_over
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.reel.decisions import ANCHORS, Part, Picture, Title
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import LogoFile, ReelRecipe
from yarnkite.core.render.frame_spec import mark

LARGE = Size(width=640, height=360)


def title(**decided):
    return Title(**{"id": 1, "text": "Pellow", "shade": "none", **decided})


def changed(frames, frame, size=LARGE):
    """Return where a frame with titles differs from the still beneath, as rows and columns."""
    image = picture(frames.spec(frame), size).astype(int)
    return np.nonzero(np.abs(image - image[0, 0]).max(axis=2) > 8)


@pytest.mark.parametrize("place", ANCHORS)
def test_nine_places_lie_inside_title_safe(tmp_path, place):
    frames = frames_of(reel_of(part(1), titles=(title(place=place, size=0.2),)), clip(tmp_path, 1, 0))
    rows, columns = changed(frames, 0)
    assert 0.05 * 360 - 1 <= rows.min() <= rows.max() <= 0.95 * 360 + 1
    assert 0.05 * 640 - 1 <= columns.min() <= columns.max() <= 0.95 * 640 + 1
    across, down = ANCHORS[place]
    assert (columns.min() + columns.max()) / 2 / 640 == pytest.approx(0.5 + (across - 0.5) * 0.55, abs=0.07)
    assert (rows.min() + rows.max()) / 2 / 360 == pytest.approx(0.5 + (down - 0.5) * 0.65, abs=0.07)


@pytest.mark.parametrize(("put", "middle"), [({"x": 0.3, "y": 0.7}, (0.3, 0.7)), ({}, (0.5, 0.5))])
def test_a_title_put_anywhere_has_its_middle_there(tmp_path, put, middle):
    frames = frames_of(reel_of(part(1), titles=(title(place=None, **put),)), clip(tmp_path, 1, 0))
    rows, columns = changed(frames, 0)
    assert (columns.min() + columns.max() + 1) / 2 / 640 == pytest.approx(middle[0], abs=0.01)
    assert (rows.min() + rows.max() + 1) / 2 / 360 == pytest.approx(middle[1], abs=0.02)


def test_a_title_is_seen_from_to_with_fades_and_goes_with_its_part(tmp_path):
    one, two = clip(tmp_path, 10, 0), clip(tmp_path, 10, 8)
    made = title(part=2, first=2, frames=6, fade_in=2, fade_out=3, size=0.5, place="middle")

    def strength(reel, *clips):
        frames = frames_of(reel, *clips)
        return [int(picture(frames.spec(n)).astype(int)[:, :, 2].max()) for n in range(len(frames))]

    course = strength(reel_of(part(1), part(2), titles=(made,)), one, two)
    assert [n for n, value in enumerate(course) if value > 70] == list(range(12, 18))
    assert course[12] < course[13] < course[14] == 255
    assert course[14] > course[15] > course[16] > course[17]
    # In another order it is seen over the same shot.
    turned = strength(reel_of(part(2), part(1), titles=(made,)), two, one)
    assert [n for n, value in enumerate(turned) if value > 70] == list(range(2, 8))
    assert strength(reel_of(part(1), titles=(made,)), one) == [60] * 10


def test_live_text_says_the_clock_the_date_the_day_and_the_compression(tmp_path):
    one = clip(tmp_path, 26, 0)
    # From 22:00 on the first of March 2031, half an hour from still to still.
    begins = 1930164000 - 1930164000 % 86400 + 22 * 3600
    one = one.model_copy(update={"moments": tuple(float(begins + 1800 * n) for n in range(26))})
    titles = tuple(
        Title(id=n, part=1, kind=kind, place="middle", text=text)
        for n, (kind, text) in enumerate((("clock", ""), ("date", "on "), ("days", ""), ("compression", "")), 1)
    )
    frames = frames_of(reel_of(part(1), titles=titles), one)
    said = [[overlay.what.lines[0] for _, overlay in frames.box_titles(frame)] for frame in (0, 3, 4)]
    day = np.datetime64(int(begins), "s").astype(object)
    assert said[0] == ["22:00", f"on {day.day} {day:%B %Y}", "Day 1", "1 s = 12 h"]
    assert said[1][0] == "23:30"
    assert said[2][:3:2] == ["00:00", "Day 2"]
    assert said[2][1] != said[0][1]


def test_the_clock_is_that_of_the_still_which_is_shown(tmp_path):
    one = clip(tmp_path, 4, 0).model_copy(update={"moments": (0.0, 600.0, 1200.0, 1800.0)})
    long = clip(tmp_path, 12, 90)
    pictures = (Picture(shot=1, wait=2, after="loop"), Picture(shot=2))
    made = Part(id=1, pictures=pictures, arrangement="stacked")
    clock = title(kind="clock", text="", part=1)
    frames = frames_of(reel_of(made, titles=(clock,)), (one, long))
    said = [frames.box_titles(frame)[0][1].what.lines[0] for frame in range(12)]
    shown = [int(picture(frames.spec(frame))[20, 5, 1]) // 4 for frame in range(12)]
    assert said == [f"00:{10 * still:02}" for still in shown]
    assert shown == [0, 0, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1]


def test_a_title_goes_with_a_part_whose_shot_is_gone(tmp_path):
    made = title(part=1, frames=5)
    frames = frames_of(reel_of(part(1), part(2), titles=(made,)), None, clip(tmp_path, 6, 0))
    assert frames.titles == []


def test_without_capture_times_live_text_is_not_made_up(tmp_path):
    frames = frames_of(reel_of(part(1), titles=(title(kind="clock", text="", part=1),)), clip(tmp_path, 3, 0))
    assert frames.box_titles(0) == []
    assert mark(frames.spec(0)) == mark(frames_of(reel_of(part(1)), clip(tmp_path, 3, 0)).spec(0))


@pytest.mark.parametrize("face", FACES)
def test_every_face_has_latin_greek_and_cyrillic_of_its_own(face):
    assert missing("Night Ωμέγα Жизнь éüßñ 0123", face) == ""
    alike = [lettering(("Pellow Reach",), other, 40, "left").coverage for other in FACES]
    own = alike[FACES.index(face)]
    assert sum(one.shape == own.shape and np.array_equal(one, own) for one in alike) == 1


def test_right_to_left_runs_stand_as_they_are_read():
    # "abג" has the Hebrew letter at its right end, "גab" alone too: a line goes where its first letter does.
    def ink(text):
        coverage = lettering((text,), "plain", 60, "left").coverage
        return coverage[:, coverage.any(axis=0)]

    hebrew = ink("ג")
    for text in ("ab ג", "ג ab"):
        line = ink(text)
        at_end = line[:, -hebrew.shape[1] :]
        at_start = line[:, : hebrew.shape[1]]
        error = [np.abs(part.astype(int) - hebrew).mean() for part in (at_start, at_end)]
        assert error[1] < error[0]
    joined, apart = ink("سلام"), sum(ink(letter).shape[1] for letter in "سلام")
    assert joined.shape[1] < apart, "letters of Arabic join"


def test_letters_no_face_has_are_named_and_the_others_drawn():
    assert missing("Sea \U0001f30a and \U0001f9f6", "plain") == "\U0001f30a\U0001f9f6"
    assert lettering(("Sea \U0001f30a",), "plain", 40, "left").coverage.any()


def test_text_is_crisp_and_lies_alike_at_every_size(tmp_path):
    frames = frames_of(reel_of(part(1), titles=(title(size=0.3, place="middle"),)), clip(tmp_path, 1, 0))
    boxes = []
    for width in (320, 640, 1920):
        size = Size(width=width, height=width * 9 // 16)
        rows, columns = changed(frames, 0, size)
        boxes.append((columns.min() / width, columns.max() / width, rows.min() / size.height, rows.max() / size.height))
        image = picture(frames.spec(0), size)[:, :, 2].astype(int)
        # An edge is as wide as a pixel, whatever the size: half of full contrast from one pixel to the next.
        assert np.abs(np.diff(image, axis=1)).max() > 110
    assert np.ptp(np.array(boxes), axis=0).max() < 0.012


def test_what_covers_by_half_is_half_of_the_light():
    for kind, top in ((np.uint8, 255), (np.uint16, 65535)):
        image = np.full((4, 4, 3), top // 5, kind)
        colour_over(image, np.full((2, 2), 128, np.uint8), (255, 200, 0), 1, 1, 1.0)
        share = 128 / 255
        under = to_light(np.array(np.full(3, top // 5) / top))
        exact = top * to_codes(share * to_light(np.array([255, 200, 0]) / 255) + (1 - share) * under)
        assert np.abs(image[1, 1] - exact).max() <= (0.6 if top == 255 else 40)
        assert (image[0] == top // 5).all()
        colour_over(image, np.full((90, 90), 255, np.uint8), (1, 2, 3), -50, 2, 1.0)
        assert (image[3, 3] == np.array([1, 2, 3]) * (top // 255)).all() or top == 65535


def test_a_logo_lies_over_with_its_transparency(tmp_path):
    path = tmp_path / "logo.png"
    logo = np.zeros((40, 80, 4), np.uint8)
    logo[:, :40] = (255, 255, 0, 255)
    logo[:, 40:] = (255, 0, 255, 0)
    Image.fromarray(logo).save(path)
    made = title(kind="picture", picture=7, size=0.5, place="middle")
    recipe = ReelRecipe(
        reel=reel_of(part(1), titles=(made,)),
        clips=((clip(tmp_path, 1, 0),),),
        logos={7: LogoFile(path=str(path), fingerprint="aa")},
    )
    image = picture(ReelFrames(recipe).spec(0), LARGE)
    assert tuple(image[180, 230]) == (255, 255, 0)
    assert tuple(image[180, 420]) == (0, 0, 60)
    assert not ((image[:, :, 0] > 30) & (image[:, :, 2] > 90)).any(), "colours of what is transparent do not bleed"
