"""The station Music: bars, passages, contrasts."""

from pathway.web.music import routes

__all__ = ["routers"]
routers = (routes.router,)
