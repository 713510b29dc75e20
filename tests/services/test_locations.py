"""What a person sees of a location: its folders and files, in natural order, and nothing outside of it."""

import pytest

from tests.conftest import write_jpeg
from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.services import locations


@pytest.fixture
def folder(card, request):
    made = card / request.node.name
    made.mkdir()
    return made


def test_a_folder_tells_its_stills_its_footage_and_its_folders_in_natural_order(services, card, folder):
    for number in (10, 9, 100):
        write_jpeg(folder / f"still {number}.jpg", number)
    for name in ("take 10", "take 9"):
        (folder / name).mkdir()
    (folder / "notes.txt").write_text("wind from the west")
    (folder / "walk.mp4").write_bytes(b"\0\0\0\x18ftypmp42")
    found = locations.list_folder(services, card.name, folder.name)
    assert (found.location, found.path) == (card.name, folder.name)
    assert (found.first, found.last, found.stills) == ("still 9.jpg", "still 100.jpg", 3)
    assert found.folders == ["take 9", "take 10"]
    assert found.footage == ["walk.mp4"]
    assert found.others == 2
    assert folder.name in locations.list_folder(services, card.name, "").folders


def test_what_is_not_there_or_leads_out_is_said_with_its_remedy(services, card, folder, tmp_path):
    (folder / "out").symlink_to(tmp_path)
    (folder / "still.jpg").write_bytes(b"")
    with pytest.raises(NotFound, match="Name its folder"):
        locations.location_named(services, "another")
    with pytest.raises(NotFound, match="Choose another folder"):
        locations.folder_in(services, card.name, f"{folder.name}/gone")
    with pytest.raises(NotFound, match="is a file"):
        locations.folder_in(services, card.name, f"{folder.name}/still.jpg")
    with pytest.raises(NotFound, match="is a folder"):
        locations.file_in(services, card.name, folder.name)
    for outside in (f"{folder.name}/out", "..", "/etc", f"{folder.name}/../../.."):
        with pytest.raises(Refusal, match="leads out"):
            locations.folder_in(services, card.name, outside)
