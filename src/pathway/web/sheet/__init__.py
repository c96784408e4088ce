"""The sheet, the station Bowing: a plan under its engraved line, edits, and what lies beside."""

from pathway.web.sheet import asides, glances, heard, history, home, routes, variants

__all__ = ["routers"]
routers = tuple(room.router for room in (routes, home, glances, heard, asides, history, variants))
