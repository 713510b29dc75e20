"""Versions of a shot, and presets for any shot."""

from tests.api.test_decisions import change


def of(client, shot):
    return client.get(f"/api/shots/{shot}").json()


def begin(client, shot, name):
    return client.post(f"/api/shots/{shot}/versions", json={"seen": of(client, shot)["revision"], "name": name})


def open_version(client, shot, version):
    seen = of(client, shot)["revision"]
    return client.post(f"/api/shots/{shot}/versions/open", json={"seen": seen, "version": version})


def names(shown):
    return {one["name"]: one["id"] for one in shown["versions"]}


def test_versions_have_their_own_fit_and_pace_and_share_stills_and_checks(client, gathered):
    shot = gathered(6)
    change(client, shot, pace={"hold": 2})
    made = begin(client, shot, "upright")
    assert made.status_code == 201
    assert list(names(made.json())) == ["first version", "upright"]
    change(client, shot, fit={"size": {"width": 1080, "height": 1920}})
    still = client.get(f"/api/shots/{shot}/stills").json()["stills"][1]["id"]
    aside = {"seen": of(client, shot)["revision"], "stills": [still], "aside": True}
    client.post(f"/api/shots/{shot}/aside", json=aside)
    first = open_version(client, shot, names(of(client, shot))["first version"]).json()
    assert first["decisions"]["fit"]["size"] == {"width": 1920, "height": 1080}
    assert first["decisions"]["check"]["aside"] == [still]
    assert first["version"] == names(first)["first version"]
    change(client, shot, pace={"hold": 5})
    upright = open_version(client, shot, names(first)["upright"]).json()
    assert upright["decisions"]["fit"]["size"] == {"width": 1080, "height": 1920}
    assert upright["decisions"]["pace"]["hold"] == 2


def test_undo_goes_back_over_the_opening_of_a_version(client, gathered):
    shot = gathered(3)
    begin(client, shot, "slow")
    change(client, shot, pace={"hold": 8})

    def undo():
        seen = of(client, shot)["revision"]
        return client.post(f"/api/shots/{shot}/undo", json={"seen": seen}).json()

    slow = of(client, shot)["version"]
    shown = undo()
    assert (shown["decisions"]["pace"]["hold"], shown["version"]) == (1, slow)
    shown = undo()
    assert shown["version"] == names(shown)["first version"]
    shown = client.post(f"/api/shots/{shot}/redo", json={"seen": shown["revision"]}).json()
    assert shown["version"] == slow


def test_versions_are_renamed_and_forgotten_but_not_the_open_one(client, gathered):
    shot = gathered(2)
    begin(client, shot, "upright")
    now = names(of(client, shot))
    renamed = client.put(f"/api/shots/{shot}/versions/{now['upright']}", json={"name": "tall"}).json()
    assert [one["name"] for one in renamed] == ["first version", "tall"]
    taken = client.put(f"/api/shots/{shot}/versions/{now['upright']}", json={"name": "first version"})
    assert (taken.status_code, taken.json()["code"]) == (409, "name_taken")
    assert begin(client, shot, "tall").json()["code"] == "name_taken"
    assert begin(client, shot, "   ").status_code == 422
    in_use = client.delete(f"/api/shots/{shot}/versions/{now['upright']}")
    assert (in_use.status_code, in_use.json()["code"]) == (409, "version_in_use")
    left = client.delete(f"/api/shots/{shot}/versions/{now['first version']}").json()
    assert [one["name"] for one in left] == ["tall"]
    assert open_version(client, shot, now["first version"]).json()["code"] == "no_such_version"


def test_the_name_of_a_clip_tells_its_version(client, gathered, finished):
    shot = gathered(3)
    change(client, shot, fit={"size": {"width": 320, "height": 180}})
    begin(client, shot, "slow one")
    job = client.post(f"/api/shots/{shot}/encode", json={"seen": of(client, shot)["revision"]}).json()
    assert finished(job["id"])["state"] == "finished"
    (clip,) = client.get(f"/api/shots/{shot}/clips").json()
    assert "slow-one" in clip["name"]


def test_revisions_are_listed_with_what_each_changed(client, gathered):
    shot = gathered(2)
    change(client, shot, pace={"hold": 2})
    change(client, shot, fit={"mirror": True}, pace={"hold": 3})
    begin(client, shot, "mirrored")
    listed = client.get(f"/api/shots/{shot}/revisions").json()
    assert [(one["number"], one["changed"]) for one in listed] == [
        *((4, "nothing"), (3, "fit and pace"), (2, "pace"), (1, "as it began")),
    ]
    assert listed[0]["version"] == "mirrored"


def test_a_preset_is_kept_applied_exported_imported_and_forgotten(client, gathered):
    shot = gathered(2)
    change(client, shot, fit={"size": {"width": 1080, "height": 1350}, "y": 0.1}, pace={"rate": "12", "repeat": 2})
    kept = client.post(f"/api/shots/{shot}/presets", json={"name": "wall 4:5"}).json()
    preset = next(one for one in kept if one["preset"]["name"] == "wall 4:5")
    change(
        client,
        shot,
        fit={"size": {"width": 1920, "height": 1080}},
        pace={"rate": "25", "repeat": 1, "direction": "back"},
    )
    seen = of(client, shot)["revision"]
    applied = client.post(f"/api/shots/{shot}/presets/apply", json={"seen": seen, "preset": preset["id"]}).json()
    assert (
        applied["decisions"]["fit"] | {"size": {"width": 1080, "height": 1350}, "y": 0.1} == applied["decisions"]["fit"]
    )
    assert (
        applied["decisions"]["pace"] | {"rate": "12", "repeat": 2, "direction": "back"} == applied["decisions"]["pace"]
    )

    # Its light goes along where that is wished for.
    change(client, shot, light={"exposure": {"value": 0.5}})
    lit = client.post(f"/api/shots/{shot}/presets", json={"name": "lit", "light": True, "steadying": True}).json()
    named = next(one for one in lit if one["preset"]["name"] == "lit")
    change(client, shot, light={"exposure": {"value": 0.0}})
    body = {"seen": of(client, shot)["revision"], "preset": named["id"]}
    relit = client.post(f"/api/shots/{shot}/presets/apply", json=body).json()
    assert relit["decisions"]["light"]["exposure"]["value"] == 0.5
    client.delete(f"/api/presets/{named['id']}")

    # Once its size is another, and nothing else, the preset is named beside the sizes on disk.
    warned = "another than that of the preset “wall 4:5”"
    assert not any(warned in one for one in client.get(f"/api/shots/{shot}/offers").json()["warnings"])
    change(client, shot, fit={"size": {"width": 1280, "height": 720}})
    assert any(warned in one for one in client.get(f"/api/shots/{shot}/offers").json()["warnings"])

    file = client.get("/api/presets.json")
    assert "attachment" in file.headers["content-disposition"]
    left = client.delete(f"/api/presets/{preset['id']}").json()
    assert all(one["preset"]["name"] != "wall 4:5" for one in left)
    back = client.post("/api/presets/import", json={"text": file.text}).json()
    assert preset["preset"] in [one["preset"] for one in back]
    refused = client.post("/api/presets/import", json={"text": "{}"})
    assert (refused.status_code, refused.json()["code"]) == (400, "not_presets")
    gone = client.post(f"/api/shots/{shot}/presets/apply", json={"seen": of(client, shot)["revision"], "preset": 10**6})
    assert gone.status_code == 404
