"""The page that stands in for the app where the data are damaged: what happened, the copies, one press back."""

from pathway.web.rescue.app import create_rescue

__all__ = ["create_rescue"]
