"""On paper: the part with its bowings for a stand without power, in the browser's print dialog and as a PDF."""

from pathway.web.paper import routes

__all__ = ["routers"]
routers = (routes.router, routes.practice)
