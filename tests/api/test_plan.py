"""Planning: the list of a project, its sums, its exports, and what a stale tab is told."""

import csv
import io
import itertools
from datetime import UTC, datetime

import icalendar
import numpy as np
import pytest
from PIL import Image, ImageOps

from tests.conftest import exif, write_jpeg
from tests.serving import gather

DUSK = {
    "name": "Dusk",
    "starts": "2026-06-21T20:30",
    "spot": {"latitude": 52.0, "longitude": 5.0, "zone": "Europe/Amsterdam"},
}


def add(client, project, **planned):
    answer = client.post(f"/api/projects/{project}/plans", json=planned)
    assert answer.status_code == 201, answer.text
    return answer.json()


def text_of(plan, quantity):
    return next(one["text"] for one in plan["quantities"] if one["quantity"] == quantity)


def test_a_changed_quantity_moves_others_is_kept_and_a_stale_tab_is_told(client, project):
    plan = add(client, project, name="Harbour")
    changed = client.post(
        f"/api/plans/{plan['id']}/change", json={"seen": 1, "quantity": "clip", "text": "1 min"}
    ).json()
    assert text_of(changed, "stills") == "1,500"
    assert set(changed["moved"]) == {"stills", "shooting"}
    assert client.get(f"/api/projects/{project}/plans").json()[0]["planned"]["stills"] == 1500
    stale = client.post(f"/api/plans/{plan['id']}/change", json={"seen": 1, "quantity": "clip", "text": "2 min"})
    assert stale.status_code == 409
    assert "another tab" in stale.json()["detail"]
    held = changed["planned"] | {"locked": ["stills", "rate"]}
    kept = client.put(f"/api/plans/{plan['id']}", json={"seen": 2, "planned": held}).json()
    refused = client.post(
        f"/api/plans/{plan['id']}/change", json={"seen": kept["number"], "quantity": "clip", "text": "9 s"}
    )
    assert refused.status_code == 400
    assert "follows from the rate and the number of stills" in refused.json()["detail"]


@pytest.mark.parametrize(
    ("quantity", "text"),
    [
        ("clip", "0"),
        ("clip", "-5"),
        ("stills", "0"),
        ("stills", "99999999999"),
        ("rate", "0"),
        ("interval", "soon"),
        ("interval", "1/0"),
    ],
)
def test_impossible_quantities_are_refused_and_nothing_changes(client, project, quantity, text):
    plan = add(client, project, name="Harbour")
    answer = client.post(f"/api/plans/{plan['id']}/change", json={"seen": 1, "quantity": quantity, "text": text})
    assert answer.status_code == 400
    assert answer.json()["detail"].endswith(".")
    assert client.get(f"/api/projects/{project}/plans").json()[0]["planned"] == plan["planned"]


def test_what_follows_is_said_with_what_to_look_at(client, project):
    long = {
        "exposing": {"exposure_s": 8, "writing_s": 3},
        "supplies": {"card_bytes": 2_000_000_000, "per_charge": 100, "next_number": 9900},
    }
    plan = add(client, project, **DUSK, **long, stills=600, interval_ms=10_000, subject="stars", lens={"focal_mm": 24})
    looked = {one["about"]: one["sentence"] for one in plan["advice"] if one["look"]}
    assert "longer than the 10 s between stills" in looked["interval"]
    assert "full after 72" in looked["card"]
    assert "ends after 100" in looked["battery"]
    assert "starts again after 100 stills" in looked["counter"]
    assert "draws lines" in looked["stars"]
    assert "has to go with it" in looked["light"]
    assert plan["course"][0]["clock"] == "20:30"
    assert plan["course"][-1]["stops"] < -3


def test_the_list_is_ordered_deleted_taken_back_and_written_as_csv_and_calendar(client, project):
    first, second = add(client, project, name="=Later"), add(client, project, **DUSK)
    listed = client.put(f"/api/projects/{project}/plans/order", json={"plans": [second["id"], first["id"]]}).json()
    assert [one["planned"]["name"] for one in listed] == ["Dusk", "=Later"]
    client.delete(f"/api/plans/{second['id']}")
    assert len(client.get(f"/api/projects/{project}/plans").json()) == 1
    client.post(f"/api/plans/{second['id']}/take-back")
    assert [one["id"] for one in client.get(f"/api/projects/{project}/plans").json()] == [second["id"], first["id"]]
    table = list(csv.DictReader(io.StringIO(client.get(f"/api/projects/{project}/plans.csv").text)))
    assert [row["name"] for row in table] == ["Dusk", "'=Later"]
    assert table[0]["starts"] == "2026-06-21T20:30:00+02:00"
    calendar = icalendar.Calendar.from_ical(client.get(f"/api/projects/{project}/plans.ics").content)
    events = calendar.walk("VEVENT")
    assert [str(event["summary"]) for event in events] == ["Dusk"]
    assert events[0].decoded("dtstart") == datetime(2026, 6, 21, 18, 30, tzinfo=UTC)
    assert (events[0].decoded("dtend") - events[0].decoded("dtstart")).total_seconds() == 299 * 5
    stranger = client.put(f"/api/projects/{project}/plans/order", json={"plans": [10**6]})
    assert stranger.status_code == 409


def test_the_next_one_is_planned_after_a_shot_that_was_taken(client, project, finished, card, shoot):
    folder = card / f"taken-{project}"
    shoot(12, "taken", (210, 140)).rename(folder)
    shot = gather(client, finished, project, folder)
    answer = client.post(f"/api/shots/{shot}/plan").json()
    assert "12 stills, 5 s apart" in answer["sentence"]
    assert "125 times as fast as life" in answer["sentence"]
    planned = answer["plan"]["planned"]
    assert (planned["stills"], planned["interval_ms"]) == (12, 5000)
    longer = client.post(
        f"/api/plans/{answer['plan']['id']}/change", json={"seen": 1, "quantity": "clip", "text": "10"}
    ).json()
    assert text_of(longer, "shooting") == "20 min 45 s"


def still_with_disc(x, second):
    picture = Image.new("RGB", (600, 400), (90, 110, 130))
    for column in range(0, 600, 24):
        picture.paste((70, 90, 60), (column, 300, column + 12, 400))
    for column, row in itertools.product(range(0, 120, 15), range(0, 90, 15)):
        shade = (column * 7 + row * 13) % 200
        picture.paste((230, shade, 40 + shade // 3), (x + column, 120 + row, x + column + 15, 135 + row))
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=95, exif=exif(datetime(2026, 5, 1, 12, 0, second), 1))
    return out.getvalue()


def test_two_test_stills_say_how_fast_things_cross_the_view(client):
    one, two = still_with_disc(200, 0), still_with_disc(212, 2)
    said = {"first": "a.jpg", "second": "b.jpg", "first_bytes": len(one), "rate": "25", "on_screen_s": 4}
    answer = client.post("/api/plan/crossing", params=said, content=one + two).json()
    # 12 of 600 pixels in 2 s: the width in 100 s, which in 4 s of clip is a still a second.
    assert answer["crossing_s"] == pytest.approx(100, rel=0.25)
    assert answer["interval_s"] == pytest.approx(1.0, rel=0.3)
    still = client.post("/api/plan/crossing", params=said, content=one + one)
    assert still.status_code == 400
    broken = client.post("/api/plan/crossing", params=said | {"first_bytes": 5}, content=one + two)
    assert broken.status_code == 422
    assert "a.jpg" in broken.json()["detail"]


@pytest.mark.parametrize(("name", "orientation", "shape"), [("a.jpg", 1, (480, 320)), ("b.jpg", 6, (320, 480))])
def test_a_test_still_is_shown_upright_before_anything_is_shot(client, tmp_path, name, orientation, shape):
    still = write_jpeg(tmp_path / name, 3, (480, 320), orientation).read_bytes()
    shown = client.post(f"/api/plan/test-still?name={name}", content=still)
    assert shown.headers["content-type"] == "image/jpeg"
    seen = Image.open(io.BytesIO(shown.content))
    assert seen.size == shape
    true = ImageOps.exif_transpose(Image.open(io.BytesIO(still))).convert("RGB")
    assert np.abs(np.asarray(seen, float) - np.asarray(true, float)).mean() < 3


def test_what_is_no_test_still_is_named(client):
    refused = client.post("/api/plan/test-still?name=notes.txt", content=b"low tide at four")
    assert refused.status_code == 422
    assert "notes.txt" in refused.json()["detail"]
