"""The shelf: all pieces, and new ones by drop."""

from pathway.web.shelf import routes

__all__ = ["routers"]
routers = (routes.router,)
