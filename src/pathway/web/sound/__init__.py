"""Hearing: a piece, or what it would be otherwise, as sound; and when its beats fall."""

from pathway.web.sound import routes

__all__ = ["routers"]
routers = (routes.router,)
