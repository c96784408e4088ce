"""The shelf: all pieces, and new ones by drop."""

from pathway.web.shelf import away, exchange, routes

__all__ = ["routers"]
routers = (away.router, exchange.router, routes.router)
