"""How tests ask the app."""

import re

from fastapi.testclient import TestClient

from pathway.web.app import create_app
from pathway.web.config import AppSettings

HTMX = {"HX-Request": "true"}
AT = "http://localhost"


def player(config: AppSettings) -> TestClient:
    """Return a browser that has a page of the app open."""
    return TestClient(create_app(config), base_url=AT, headers={"Origin": AT})


def version_of(client: TestClient, key: int) -> int:
    """Return the version of a piece as its page tells it."""
    found = re.search(r'data-version="(\d+)"', client.get(f"/pieces/{key}").text)
    assert found is not None
    return int(found[1])
