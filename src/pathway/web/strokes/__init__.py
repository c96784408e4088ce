"""The pages of the stroke types."""

from pathway.web.strokes import routes

__all__ = ["routers"]
routers = (routes.router,)
