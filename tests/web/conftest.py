"""The app on an empty or a demo shelf."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from pathway.web.config import AppSettings
from tests.web.asking import player


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    """The app on an empty shelf."""
    with player(AppSettings(tmp_path)) as client:
        yield client


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """The app with the demo pieces."""
    with player(AppSettings(tmp_path_factory.mktemp("demo"), demo=True)) as client:
        yield client


@pytest.fixture
def shelf(tmp_path: Path) -> TestClient:
    """The app with the demo pieces, for tests that change what is set once."""
    return player(AppSettings(tmp_path, demo=True))
