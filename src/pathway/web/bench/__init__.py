"""The bench: a double stop, a crossing or a chord taken apart."""

from pathway.web.bench import routes

__all__ = ["routers"]
routers = (routes.router,)
