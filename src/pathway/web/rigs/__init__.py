"""The rig room, and the station Rig."""

from pathway.web.rigs import routes, station

__all__ = ["routers"]
routers = (routes.router, station.router)
