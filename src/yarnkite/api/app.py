"""The application: routers, errors, security and the built pages, put together."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles

from yarnkite import __version__
from yarnkite.api import (
    capture,
    check,
    clip_now,
    decisions,
    dust,
    encode,
    events,
    export,
    fit,
    footage,
    gather,
    jobs,
    light,
    locations,
    looks,
    move,
    offload,
    order,
    pace,
    plan,
    presets,
    problems,
    projects,
    ratings,
    reel,
    rename,
    shot_list,
    sorting,
    sound,
    space,
    treatment,
    uploads,
    versions,
)
from yarnkite.api.entering import Door
from yarnkite.api.security import SameOrigin
from yarnkite.core.base.errors import NotFound
from yarnkite.entrance import Entrance
from yarnkite.services.running import Services

HOST_NAMES = frozenset({"127.0.0.1", "localhost", "::1"})


def create_app(services: Services | None, pages: Path | None = None) -> FastAPI:
    """Return the application; without ``services`` it can only describe itself, without ``pages`` it has no screen."""

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        if services is not None:
            services.events.attach(asyncio.get_running_loop())
            services.runner.go_on()
        yield

    app = FastAPI(
        title="Yarn Kite",
        version=__version__,
        lifespan=life,
        generate_unique_id_function=_operation_name,
        responses={"4XX": {"model": problems.Problem, "content": {"application/problem+json": {}}}},
    )
    app.state.services = services
    if services is not None:
        app.add_middleware(Door, entrance=Entrance(services.workspace.folder))
    app.add_middleware(SameOrigin, host_names=HOST_NAMES)
    problems.install(app)
    gathering = (locations, gather, uploads, footage, offload, sorting)
    deciding = (decisions, versions, presets, treatment, light, looks, fit, move, pace)
    for step in (
        projects,
        space,
        plan,
        capture,
        *gathering,
        order,
        ratings,
        rename,
        export,
        shot_list,
        check,
        *deciding,
        dust,
        encode,
        clip_now,
        reel,
        sound,
        jobs,
        events,
    ):
        app.include_router(step.router)
    app.include_router(pace.segments_router)
    app.include_router(locations.machine_router)
    if pages is not None:
        _serve_pages(app, pages)
    return app


def _serve_pages(app: FastAPI, pages: Path) -> None:
    app.mount("/assets", StaticFiles(directory=pages / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        if path.startswith("api/"):
            raise NotFound("no_such_address", "There is nothing under this address.")
        if path == "kite.svg":
            return FileResponse(pages / "kite.svg")
        return FileResponse(pages / "index.html", headers={"Cache-Control": "no-cache"})


def _operation_name(route: APIRoute) -> str:
    return route.name
