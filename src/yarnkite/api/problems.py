"""Errors as problem details (RFC 9457): a stable code, and a sentence a photographer understands."""

import logging
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from yarnkite.core.base.errors import Conflict, DiskFull, NotFound, Refusal, Unavailable, UnreadableStill
from yarnkite.core.base.frozen import Frozen

log = logging.getLogger(__name__)

_STATUS: tuple[tuple[type[Refusal], int], ...] = (
    (NotFound, 404),
    (Conflict, 409),
    (DiskFull, 507),
    (Unavailable, 503),
    (UnreadableStill, 422),
    (Refusal, 400),
)


class Problem(BaseModel):
    """A problem detail; ``detail`` is the sentence to show, ``code`` the stable name of what went wrong."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str


def problem(status: int, code: str, sentence: str, headers: dict[str, str] | None = None) -> JSONResponse:
    """Return a problem as a response."""
    body = Problem(title=code.replace("_", " ").capitalize(), status=status, detail=sentence, code=code)
    return JSONResponse(body.model_dump(), status, headers, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Make every error of an application a problem detail."""

    @app.exception_handler(Refusal)
    async def refused(request: Request, refusal: Refusal) -> JSONResponse:
        status = next(status for kind, status in _STATUS if isinstance(refusal, kind))
        return problem(status, refusal.code, refusal.sentence, {"Retry-After": "1"} if status == 503 else None)

    @app.exception_handler(ValidationError)
    async def refused_by_model(request: Request, error: ValidationError) -> JSONResponse:
        # What a request asks for can be refused by a model of the core only once it is put together.
        if error.title not in _models_of_the_core():
            return await unexpected(request, error)
        return problem(422, "not_valid", " ".join(dict.fromkeys(sentence(one) for one in error.errors())))

    @app.exception_handler(RequestValidationError)
    async def not_valid(request: Request, error: RequestValidationError) -> JSONResponse:
        return problem(422, "not_valid", " ".join(dict.fromkeys(sentence(one) for one in error.errors())))

    @app.exception_handler(HTTPException)
    async def refused_by_framework(request: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, f"http_{error.status_code}", str(error.detail), dict(error.headers or {}))

    @app.exception_handler(Exception)
    async def unexpected(request: Request, error: Exception) -> JSONResponse:
        log.exception("unexpected error", exc_info=error)
        return problem(500, "unexpected", "Something went wrong that should not. Nothing was lost; try again.")


def sentence(error: Mapping[str, Any]) -> str:
    """Turn one of Pydantic's errors into a sentence that names the value and what is allowed."""
    name = _field(error["loc"])
    context = error.get("ctx", {})
    value = error.get("input")
    shown = f"“{_short(value)}”" if isinstance(value, str | int | float) else "this"
    match error["type"]:
        case "value_error":
            return str(context.get("error") or error["msg"].removeprefix("Value error, "))
        case "greater_than_equal":
            return f"{shown} is too small for {name}: it must be {context['ge']} or more."
        case "less_than_equal":
            return f"{shown} is too large for {name}: it must be {context['le']} or less."
        case "missing":
            return f"{name} is missing."
        case "literal_error":
            return f"{shown} is not a choice for {name}: it is {context['expected']}."
        case "int_parsing" | "int_type" | "int_from_float":
            return f"{shown} is not a whole number, and {name} must be one."
        case "string_too_short" | "string_too_long":
            return f"The {name} must have {context.get('min_length', context.get('max_length'))} characters at the " + (
                "least." if error["type"] == "string_too_short" else "most."
            )
        case _:
            return f"{name}: {error['msg']}."


@lru_cache(maxsize=1)
def _models_of_the_core() -> frozenset[str]:
    found, waiting = set(), [Frozen]
    while waiting:
        model = waiting.pop()
        found.add(model.__name__)
        waiting += model.__subclasses__()
    return frozenset(found)


def _short(value: str | int | float) -> str:
    # A number of thousands of digits cannot even be written out.
    text = "a very large number" if isinstance(value, int) and value.bit_length() > 200 else str(value)
    return text if len(text) <= 60 else f"{text[:60]}…"


def _field(place: Sequence[object]) -> str:
    words = [str(part).replace("_", " ") for part in place if isinstance(part, str) and part not in ("body", "query")]
    return words[-1] if words else "request"
