"""How tests ask the app."""

import re

from fastapi.testclient import TestClient

HTMX = {"HX-Request": "true"}


def version_of(client: TestClient, key: int) -> int:
    """Return the version of a piece as its page tells it."""
    found = re.search(r'data-version="(\d+)"', client.get(f"/pieces/{key}").text)
    assert found is not None
    return int(found[1])
