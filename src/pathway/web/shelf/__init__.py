"""The shelf: all pieces, and new ones by drop."""

from pathway.web.shelf import exchange, routes

__all__ = ["routers"]
routers = (exchange.router, routes.router)
