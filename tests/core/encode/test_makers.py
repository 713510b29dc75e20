"""A chunk's name knows all that makes its bytes: also what is installed on the machine that makes them."""

from pathlib import Path

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode import makers as made_by
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.render_plan import chunks, task_of
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image import jpeg_planes, lettering
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs import cluster_worker


@pytest.fixture
def keys(stills):
    recipe = Recipe(stills=stills(3), decisions=Decisions(fit=Fit(size=Size(width=64, height=36))))

    def keys():
        made_by.makers.cache_clear()
        return [one.key for one in chunks(ClipFrames(recipe), Encode())]

    yield keys
    made_by.makers.cache_clear()


@pytest.mark.parametrize(
    "name", ["libavcodec", "libraw", "opencv-python-headless", "planes", "pillow raqm", "processor"]
)
def test_another_library_makes_another_name(keys, monkeypatch, name):
    before = keys()
    assert keys() == before
    now = made_by.parts()
    assert name in now
    monkeypatch.setattr(made_by, "parts", lambda: now | {name: "another"})
    assert not set(keys()) & set(before)


def test_a_machine_without_the_decoder_of_planes_or_with_other_typefaces_makes_another_name(
    keys, monkeypatch, tmp_path
):
    before = keys()
    with monkeypatch.context() as patched:
        patched.setattr(jpeg_planes, "_codec", lambda: None)
        assert keys() != before
    other = tmp_path / Path(lettering.typefaces()[0]).name
    other.write_bytes(lettering.typefaces()[0].read_bytes() + b" ")
    monkeypatch.setattr(lettering, "typefaces", lambda: [other, *_others])
    _others = [Path(lettering._file(name)) for name in (*lettering.FILES.values(), *lettering._OTHERS)][1:]
    assert keys() != before


def test_a_worker_with_other_libraries_is_refused_by_a_sentence(stills, tmp_path):
    recipe = Recipe(stills=stills(2), decisions=Decisions(fit=Fit(size=Size(width=64, height=36))))
    frames = ClipFrames(recipe)
    tasks = [task_of(frames, Encode(), one) for one in chunks(frames, Encode())]
    bundle = cluster_worker.packed(tasks, 1, ())
    assert [name for name, _ in cluster_worker.render_bundle(bundle)] == [
        *tasks[0].chunk.beside,
        tasks[0].chunk.file_name,
    ]
    with pytest.raises(Refusal, match="other libraries"):
        cluster_worker.render_bundle(type(bundle)(bundle.tasks, 1, "another", bundle.places, bundle.sent))
