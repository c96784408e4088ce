"""The station Tone: the tone map and the balance."""

from pathway.web.tone import routes

__all__ = ["routers"]
routers = (routes.router,)
