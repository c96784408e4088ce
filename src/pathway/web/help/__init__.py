"""Help for players, and the keys."""

from pathway.web.help import routes

__all__ = ["routers"]
routers = (routes.router,)
