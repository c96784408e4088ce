"""The stand: the part as large as a player wants it, with ribbons or with signs only, turned by hand or foot."""

from pathway.web.stand import routes

__all__ = ["routers"]
routers = (routes.router,)
