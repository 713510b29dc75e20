"""WebP loops: slow light is followed step by step, equal pictures last longer, times add up."""

from fractions import Fraction

import numpy as np
from PIL import Image, ImageSequence

from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.webp_loop import write_webp

SIZE = Size(width=160, height=90)


def shown(path):
    with Image.open(path) as image:
        for frame in ImageSequence.Iterator(image):
            yield np.asarray(frame.convert("RGB")).astype(float), frame.info["duration"]


def test_light_that_changes_by_one_step_a_frame_is_followed(tmp_path):
    grain = np.random.default_rng(3).normal(100, 12, (90, 160, 3))
    pictures = [np.clip(grain + number, 0, 255).astype(np.uint8) for number in range(12)]
    write_webp(tmp_path / "a.webp", SIZE, Fraction(25), pictures, 86)
    found = [picture for picture, _ in shown(tmp_path / "a.webp")]
    assert len(found) == 12
    for own, its in zip(pictures, found, strict=True):
        parts = (own - its)[:88].reshape(4, 22, 4, 40, 3).mean(axis=(1, 3, 4))
        assert np.abs(parts).max() < 1.5


def test_equal_pictures_are_one_that_lasts_longer_and_all_lasts_as_long_as_it_should(tmp_path):
    first, other = (np.full((90, 160, 3), level, np.uint8) for level in (40, 200))
    write_webp(tmp_path / "a.webp", SIZE, Fraction(24000, 1001), [first, first, other, first, first, first], 86)
    found = list(shown(tmp_path / "a.webp"))
    assert [lasts for _, lasts in found] == [83, 42, 125]
    assert [round(picture.mean() / 40) for picture, _ in found] == [1, 5, 1]
    assert sum(lasts for _, lasts in found) == round(6 * 1001 / 24)


def test_the_file_is_one_that_other_readers_take(tmp_path):
    """Sides of odd lengths of data are padded; the length of all is said at the start (RFC 9649)."""
    rng = np.random.default_rng(4)
    pictures = [rng.integers(0, 255, (90, 160, 3), np.uint8) for _ in range(5)]
    write_webp(tmp_path / "a.webp", SIZE, Fraction(10), pictures, 60)
    data = (tmp_path / "a.webp").read_bytes()
    assert data[:4] + data[8:12] == b"RIFFWEBP"
    assert int.from_bytes(data[4:8], "little") == len(data) - 8
    assert len(data) % 2 == 0
    with Image.open(tmp_path / "a.webp") as image:
        assert (image.n_frames, image.info["loop"], image.size) == (5, 0, (160, 90))
