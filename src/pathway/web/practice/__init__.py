"""The station Practise: today, a drill on the stand, the log."""

from pathway.web.practice import log, offers, running, today

__all__ = ["routers"]
routers = (today.router, running.router, offers.router, log.router)
