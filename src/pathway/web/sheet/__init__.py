"""The sheet, the station Bowing: a plan under its engraved line, edits, and what lies beside."""

from pathway.web.sheet import beside, home, routes

__all__ = ["routers"]
routers = (routes.router, home.router, beside.router)
