"""What routers are given: the services of the running program."""

from typing import Annotated, cast

from fastapi import Depends, Request

from yarnkite.services.running import Services


def _services(request: Request) -> Services:
    return cast(Services, request.app.state.services)


ServicesDep = Annotated[Services, Depends(_services)]
