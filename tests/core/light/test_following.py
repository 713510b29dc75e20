"""Following a picture developed elsewhere: by known lights of our own, and by developers that share no code with us."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageEnhance

from yarnkite.core.base.errors import Refusal
from yarnkite.core.image.pixels import as_sixteen
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, UNADJUSTED, Adjustment, SharedLight, adjusted
from yarnkite.core.light.colour_table import identity
from yarnkite.core.light.cube import ColourTable
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.following import followed
from yarnkite.core.light.grade import numbers_of

NAMES = ("MRW_7.JPG", "shore, edited.tif")


def view(seed=3, size=(480, 320)):
    """A shore: sky, sea, rocks in sun and shade, all greys and many colours, with the grain of a camera."""
    random = np.random.default_rng(seed)
    across, down = np.meshgrid(np.linspace(0, 1, size[0]), np.linspace(0, 1, size[1]))
    sky = np.stack([0.35 + 0.5 * down, 0.5 + 0.4 * down, 0.95 - 0.15 * down], axis=2)
    sea = np.stack([0.05 + 0.1 * across, 0.25 + 0.2 * across, 0.3 + 0.25 * (1 - down)], axis=2)
    picture = np.where((down < 0.5)[..., None], sky, sea)
    for _ in range(60):
        x, y, wide, high = random.uniform(0, 1), random.uniform(0.4, 1), *random.uniform(0.02, 0.2, 2)
        picture[(np.abs(across - x) < wide) & (np.abs(down - y) < high)] = random.uniform(0.01, 0.95) * random.uniform(
            0.5, 1, 3
        )
    noisy = picture * 255 + random.normal(0, 2.5, picture.shape)
    return np.clip(noisy, 0, 255).astype(np.uint8)


def follow(still, wanted, own=UNADJUSTED, shared=NO_SHARED_LIGHT):
    return followed(still, wanted, own, shared, scene=None, names=NAMES)


def as_followed(still, light, own=UNADJUSTED, shared=NO_SHARED_LIGHT):
    values = {path: one.value for path, one in light.settings.items()}
    return adjusted(still, own.model_copy(update=numbers_of(light, values)), shared)


def apart(one, other):
    return float(np.abs(as_sixteen(one).astype(float) - as_sixteen(other)).mean()) / 257


def faded(still):
    """Film that lies in a drawer: weak colours, darker, its shadows bluish and never black."""
    picture = ImageEnhance.Brightness(ImageEnhance.Color(Image.fromarray(still)).enhance(0.6)).enhance(0.85)
    codes = np.clip(0.45 + 1.25 * (np.asarray(picture) / 255 - 0.45), 0, 1)
    dark = 1 - codes.mean(axis=2, keepdims=True)
    return np.clip((codes * (1 - 0.12 * dark * [1, 0.6, 0]) + 0.06 * dark * [0, 0.3, 1]) * 255, 0, 255).astype(np.uint8)


def warm_and_bright(still):
    """A stop brighter and warmer in light of a power of 2.2, rolled off, with an S of its own."""
    light = (still / 255) ** 2.2 * [1.3, 1.1, 0.8] * 1.6
    codes = np.clip(light / (1 + 0.25 * light), 0, 1) ** (1 / 2.2)
    return np.clip((codes + 0.05 * np.sin(2 * np.pi * (codes - 0.5))) * 255, 0, 255).astype(np.uint8)


def stretched(still):
    """As a scanner does it: each channel between ends of its own."""
    return np.clip((still - [24.0, 44, 8]) / [190, 170, 240] * 255, 0, 255).astype(np.uint8)


@pytest.mark.parametrize(("developer", "most"), [(faded, 3.0), (warm_and_bright, 2.5), (stretched, 3.0)])
def test_other_developers_are_followed_and_the_next_still_looks_like_theirs(developer, most):
    still = view()
    found = follow(still, as_sixteen(developer(still)))
    assert found.before > 10
    assert found.left < most
    made = as_followed(still, found.light)
    assert apart(made, developer(still)) < most + 1
    # Later it is darker, and other things stand there: nobody looked at that still.
    later = (view(seed=8) * 0.7).astype(np.uint8)
    assert apart(as_followed(later, found.light), developer(later)) < min(2 * most, apart(later, developer(later)) / 3)


@given(
    st.fixed_dictionaries(
        {
            "exposure": st.floats(-1, 1),
            "warmth": st.floats(-50, 50),
            "middle": st.floats(-0.4, 0.4),
            "saturation": st.floats(-0.5, 0.5),
            "dark_warmth": st.floats(-0.4, 0.4),
        }
    )
)
@settings(max_examples=5)
def test_a_light_of_our_own_is_found_again(numbers):
    still = view(size=(240, 160))
    wanted = adjusted(still, Adjustment(**numbers))
    found = follow(still, wanted)
    assert found.left < max(0.6, 0.05 * found.before)


def test_what_looks_the_same_is_left_alone():
    still = view()
    found = follow(still, as_sixteen(still))
    assert found.light.changes_nothing
    assert found.left == pytest.approx(found.before)


def test_what_was_done_to_a_part_alone_does_not_pull_the_rest():
    still = view()
    edited = Image.fromarray(warm_and_bright(still))
    ImageDraw.Draw(edited).rectangle((300, 180, 460, 300), fill=(20, 20, 24))
    found = follow(still, as_sixteen(np.asarray(edited)))
    whole = follow(still, as_sixteen(warm_and_bright(still)))
    rest = np.s_[:160]
    made, best = (as_followed(still, one.light)[rest] for one in (found, whole))
    assert apart(made, warm_and_bright(still)[rest]) < apart(best, warm_and_bright(still)[rest]) + 2
    # It is said that something is left.
    assert found.left > whole.left + 2


def test_evening_and_a_table_of_colours_are_there_beside_what_is_found():
    still = view()
    negative = ColourTable.of((1 - identity(17)) * 0.8 + 0.1)
    own, shared = Adjustment(gain=0.6, table=1.0), SharedLight(table=negative)
    wanted = adjusted(still, own.model_copy(update={"exposure": -0.5, "warmth": 30.0}), shared)
    found = follow(still, wanted, own, shared)
    assert found.left < 0.6
    assert apart(as_followed(still, found.light, own, shared), wanted) < 1


def test_another_size_is_followed_another_shape_or_view_is_refused():
    still = view()
    larger = np.asarray(Image.fromarray(warm_and_bright(still)).resize((960, 640), Image.Resampling.BICUBIC))
    assert follow(still, as_sixteen(larger)).left < 3
    with pytest.raises(Refusal, match=r"“shore, edited\.tif” has another shape than “MRW_7\.JPG”"):
        follow(still, as_sixteen(warm_and_bright(still)[:, :400]))
    with pytest.raises(Refusal, match="does not look like"):
        follow(still, as_sixteen(np.ascontiguousarray(np.rot90(still, 2))))
    with pytest.raises(Refusal, match="does not look like"):
        follow(still, np.full((320, 480, 3), 30_000, np.uint16))


def test_nothing_but_brightness_and_colour_is_set():
    found = follow(view(), as_sixteen(faded(view())))
    neutral = Light().settings
    set_to = {path for path, one in found.light.settings.items() if one != neutral.get(path)}
    assert set_to <= {
        *("exposure", "black", "white", "soften", "warmth", "tint", "saturation", "muted", "dark", "middle", "bright"),
        *("dark_warmth", "dark_tint", "bright_warmth", "bright_tint", "pulls.0.by", "pulls.1.by"),
    }
