"""The station Takes: recorded or dropped, listened to, laid on the sheet under the plan."""

from pathway.web.takes import routes

__all__ = ["routers"]
routers = (routes.router,)
