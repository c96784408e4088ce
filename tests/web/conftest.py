"""The app on an empty or a demo shelf."""

import shutil
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from jinja2 import FileSystemBytecodeCache

from pathway.web.config import AppSettings
from pathway.web.shared import pages
from tests.web.asking import player


@pytest.fixture(autouse=True, scope="session")
def compiled(tmp_path_factory: pytest.TempPathFactory) -> Iterator[None]:
    """Templates are compiled once, not for each app."""
    cache = FileSystemBytecodeCache(str(tmp_path_factory.mktemp("templates")))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(pages, "Environment", partial(pages.Environment, bytecode_cache=cache))
        yield


@pytest.fixture
def client(tmp_path: Path, empty_data: Path) -> Iterator[TestClient]:
    """The app on an empty shelf."""
    shutil.copytree(empty_data, tmp_path, dirs_exist_ok=True)
    with player(AppSettings(tmp_path)) as client:
        yield client


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory, demo_data: Path) -> Iterator[TestClient]:
    """The app with the demo pieces."""
    folder = tmp_path_factory.mktemp("demo")
    shutil.copytree(demo_data, folder, dirs_exist_ok=True)
    with player(AppSettings(folder, demo=True)) as client:
        yield client


@pytest.fixture
def shelf(tmp_path: Path, demo_data: Path) -> TestClient:
    """The app with the demo pieces, for tests that change what is set once."""
    shutil.copytree(demo_data, tmp_path, dirs_exist_ok=True)
    return player(AppSettings(tmp_path, demo=True))
