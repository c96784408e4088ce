"""What routes take from the app."""

from typing import Annotated, cast

from fastapi import Depends, Request

from pathway.web.desk import Desk
from pathway.web.pages import Pages


def _desk(request: Request) -> Desk:
    return cast(Desk, request.app.state.desk)


def _pages(request: Request) -> Pages:
    return cast(Pages, request.app.state.pages)


DeskOf = Annotated[Desk, Depends(_desk)]
PagesOf = Annotated[Pages, Depends(_pages)]
