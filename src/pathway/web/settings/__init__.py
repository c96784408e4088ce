"""The settings: units, words and school, backup and restore."""

from pathway.web.settings import routes

__all__ = ["routers"]
routers = (routes.router,)
