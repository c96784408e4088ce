"""Sharing: other devices of the home network come in by a code, each with a cookie of its own; off by default."""

from pathway.web.share import routes

__all__ = ["routers"]
routers = (routes.router,)
