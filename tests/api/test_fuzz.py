"""Requests no page would send: whatever comes in, the answer is a result or a sentence, and never an error of ours."""

import json
import os
import zlib

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.serving import ADDRESS, known, started
from yarnkite.api.app import create_app
from yarnkite.core.render.decisions import Decisions

EXAMPLES = int(os.environ.get("YARNKITE_FUZZ_EXAMPLES", "3"))
BOUNDED = settings(
    max_examples=EXAMPLES,
    derandomize=True,
    deadline=None,
    database=None,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
SCHEMA = schemathesis.openapi.from_dict(create_app(None).openapi())
OPERATIONS = {operation.ok().label: operation.ok() for operation in SCHEMA.get_all_operations()}
# What would end the fuzz itself, or make it wait for work that others test.
LEFT_ALONE = {"POST /api/space/free"}


@pytest.fixture(scope="module")
def fuzzed(tmp_path_factory):
    """A client that is answered like a page, errors of the program included, and a shot to ask about.

    Its program is its own: what is asked at random deletes what others have.
    """
    data, card = tmp_path_factory.mktemp("fuzzed"), tmp_path_factory.mktemp("places") / "card"
    with started(data, card) as services:
        for number in range(8):
            write_jpeg(card / "fuzzed" / f"MRW_{number}.jpg", number, (240, 160))
        app, let_in = create_app(services), known(data)
        with TestClient(app, base_url=ADDRESS, headers=let_in, raise_server_exceptions=False) as client:
            # What is asked for at random is often the first there is.
            client.post("/api/projects", json={"name": "First"}).raise_for_status()
            project = client.post("/api/projects", json={"name": "Fuzzed"}).json()["id"]
            where = {"location": "card", "path": "fuzzed"}
            shot = client.post(f"/api/projects/{project}/shots", json=where).json()["shot_id"]
            wait_until(lambda: client.get(f"/api/shots/{shot}").json()["gathered"])
            yield client, project, shot


def asked_about(case, project, shot):
    """Let half of the cases ask about things that are there; the rest asks about anything."""
    parameters = case.path_parameters or {}
    for name, value in (("project_id", project), ("shot_id", shot)):
        if name in parameters and zlib.crc32(str(parameters[name]).encode("utf-8", "replace")) % 8:
            parameters[name] = value
    for name in ("position", "frame"):
        if name in parameters and isinstance(parameters[name], int):
            parameters[name] = abs(parameters[name]) % 12
    if isinstance(case.query, dict) and "revision" in case.query:
        case.query["revision"] = 1
    if isinstance(case.body, dict) and "seen" in case.body:
        case.body["seen"] = 1
    return case


def spared(case, project, shot):
    """Let no case delete what the others ask about."""
    for name, value in (("project_id", project), ("shot_id", shot)):
        if (case.path_parameters or {}).get(name) == value:
            case.path_parameters[name] = value + 10**6
    return case


@pytest.mark.parametrize("label", sorted(OPERATIONS.keys() - LEFT_ALONE))
def test_no_request_is_answered_with_an_error_of_the_program(label, fuzzed):
    client, project, shot = fuzzed
    deleting = label.startswith("DELETE")

    @BOUNDED
    @given(case=OPERATIONS[label].as_strategy())
    def send(case):
        sent = spared(case, project, shot) if deleting else asked_about(case, project, shot)
        options = sent.as_transport_kwargs(base_url=ADDRESS)
        options.pop("cookies", None)
        try:
            answer = client.request(**options)
        except (UnicodeEncodeError, ValueError):
            return  # no browser could send it either
        assert answer.status_code < 500 or answer.status_code == 507, (options, answer.text[:300])
        if answer.status_code >= 400:
            problem = answer.json()
            assert problem["detail"]
            assert problem["code"] not in ("unexpected",)
            assert len(problem["detail"]) < 2000

    send()
    assert client.get(f"/api/shots/{shot}").status_code == 200
    assert client.get(f"/api/projects/{project}").status_code == 200


odd = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**30), 10**30),
    st.floats(allow_nan=False, allow_infinity=False),
    st.text(max_size=40),
    st.just("1e999999"),
    st.just("9" * 4000),
    st.just("24000/1001"),
    st.lists(st.integers(-5, 10**12), max_size=5),
    st.just([1] * 2000),
    st.just({"still": 1, "text": "x" * 600}),
    st.just([{"after": 1, "count": 10**9}]),
)
FIELDS = [(step, field) for step, value in Decisions().model_dump(mode="json").items() for field in value]


@given(st.lists(st.tuples(st.sampled_from(FIELDS), odd), min_size=1, max_size=3))
@settings(max_examples=max(60, EXAMPLES), derandomize=True, deadline=None, suppress_health_check=list(HealthCheck))
def test_whatever_decisions_are_accepted_are_read_back_and_the_shot_opens(fuzzed, changes):
    client, project, shot = fuzzed
    shown = client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"]
    for (step, field), value in changes:
        decisions[step][field] = value
    body = json.dumps({"seen": shown["revision"], "decisions": decisions})
    answer = client.put(f"/api/shots/{shot}/decisions", content=body, headers={"Content-Type": "application/json"})
    assert answer.status_code in (200, 400, 422), answer.text[:400]
    if answer.status_code == 200:
        read = client.get(f"/api/shots/{shot}").json()
        assert read["revision"] == answer.json()["revision"]
        assert read["decisions"] == answer.json()["decisions"]
        assert read["notice"] == ""
        again = client.put(
            f"/api/shots/{shot}/decisions", json={"seen": read["revision"], "decisions": read["decisions"]}
        )
        assert (again.status_code, again.json()["revision"]) == (200, read["revision"])
        revision = read["revision"]
        for path in (
            f"frames/0.jpg?width=160&revision={revision}",
            f"pace/play?revision={revision}",
            "stills",
            "order",
        ):
            assert client.get(f"/api/shots/{shot}/{path}").status_code < 500, path
    else:
        assert answer.json()["detail"]
    assert client.get(f"/api/projects/{project}").status_code == 200
