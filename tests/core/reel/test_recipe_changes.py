"""What was changed since a reel's file was made: its own decisions, and its shots by name and step."""

from pathlib import Path

import pytest

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.reel.decisions import Fades, Join, Part, Picture, Reel, Title
from yarnkite.core.reel.recipe import ClipStretch, LogoFile, ReelRecipe, SoundFile
from yarnkite.core.reel.recipe_changes import reel_changed_since
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import NO_CORRECTION, Correction, Recipe

STILLS = tuple(Still(path=f"/card/{n}.jpg", fingerprint=f"{n:032x}", width=600, height=400) for n in range(6))
PARTS = (Part(id=1, pictures=(Picture(shot=7),)), Part(id=2, pictures=(Picture(shot=9),)))
CLOCK = Title(id=1, kind="clock")
LAID = Correction(laid=(1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0))
LARGE = Size(width=3840, height=2160)


def clip(stills=STILLS, *, size=Size(width=1920, height=1080), laid=NO_CORRECTION, moments=(), **steps):
    fit = steps.pop("fit", Fit()).model_copy(update={"size": size})
    recipe = Recipe(stills=stills, decisions=Decisions(fit=fit, **steps), corrections=(laid,) * len(stills))
    return ClipStretch(recipe=recipe, first=0, frames=len(stills), moments=moments)


def made(one=clip(), other=clip(), names=("Dawn", "Dusk"), sounds=None, logos=None, **decided):
    reel = Reel(**({"parts": PARTS} | decided))
    clips = tuple((stretch,) for stretch in (one, other)[: len(reel.parts)])
    return ReelRecipe(reel=reel, clips=clips, names=names[: len(reel.parts)], sounds=sounds or {}, logos=logos or {})


def sound(fingerprint: str, path: str = "/kept/a.wav") -> dict[int, SoundFile]:
    return {1: SoundFile(path=path, fingerprint=fingerprint, samples=48_000)}


@pytest.mark.parametrize(
    ("before", "now", "changed"),
    [
        (made(), made(), ()),
        # Where files lie and how it is encoded is no matter.
        (made(sounds=sound("a" * 32)), made(sounds=sound("a" * 32, "/disk/a.wav"), encode=Encode(crf=30)), ()),
        (made(), made(sounds=sound("a" * 32)), ("sound",)),
        (made(sounds=sound("a" * 32)), made(sounds=sound("b" * 32)), ("sound",)),
        (made(), made(logos={3: LogoFile(path="/kept/l.png", fingerprint="c" * 32)}), ("titles",)),
        (made(), made(titles=(Title(id=1, text="So it goes"),)), ("titles",)),
        (made(), made(fades=Fades(picture_out=12)), ("fades",)),
        (made(), made(rate="30"), ("rate",)),
        (made(), made(other=clip(STILLS[:4])), ("“Dusk” (stills)",)),
        (made(), made(one=clip(pace=Pace(hold=2), fit=Fit(zoom=1.5))), ("“Dawn” (fit and pace)",)),
        (made(), made(other=None), ("“Dusk” (stills)",)),
        # A larger reel has larger pictures of the same shots; that is one change.
        (made(), made(clip(size=LARGE, laid=LAID), clip(size=LARGE), size=LARGE), ("size",)),
        (
            made(),
            made(clip(size=LARGE, pace=Pace(hold=2)), clip(size=LARGE), size=LARGE),
            ("“Dawn” (pace)", "size"),
        ),
        (made(), made(parts=PARTS[::-1], names=("Dusk", "Dawn")), ("the running order",)),
        (made(), made(parts=PARTS[:1]), ("the running order",)),
        (
            made(),
            made(parts=(PARTS[0].model_copy(update={"join": Join(kind="dissolve")}), PARTS[1])),
            ("the running order",),
        ),
        # A shot that has another name is another chapter, if there are any.
        (made(), made(names=("Dawn", "Night")), ("chapters",)),
        (made(chapters=False), made(chapters=False, names=("Dawn", "Night")), ()),
        (made(names=(), chapters=False), made(other=clip(STILLS[:4]), chapters=False), ("“Dusk” (stills)",)),
        # What a clock in the picture tells hangs on when stills were taken.
        (
            made(clip(moments=(0.0, 5.0)), titles=(CLOCK,)),
            made(clip(moments=(3600.0, 3605.0)), titles=(CLOCK,)),
            ("titles",),
        ),
    ],
)
def test_each_change_is_told_where_it_was_made(before, now, changed):
    assert reel_changed_since(before, now) == changed
    assert len(reel_changed_since(now, before)) == len(changed)


def test_a_recipe_that_was_kept_and_read_again_has_not_changed(tmp_path: Path):
    before = made(clip(pace=Pace(hold=3), laid=LAID), titles=(CLOCK,), sounds=sound("d" * 32))
    kept = tmp_path / "recipe.json"
    kept.write_text(before.model_dump_json())
    assert reel_changed_since(ReelRecipe.model_validate_json(kept.read_text()), before) == ()
