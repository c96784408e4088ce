"""Fixtures for all tests."""

import gc
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings
from sqlalchemy import Engine

from pathway.core.planning import Plan
from pathway.demo.loader import load_demo
from pathway.store import Pieces, fold, open_database
from pathway.store.practice import PracticeLog
from tests.helpers import plan_of

settings.register_profile("house", deadline=None)  # a busy machine is no fault of the code
settings.load_profile("house")


def pytest_collection_finish() -> None:
    """Tidy memory as rarely as the app does, and leave what is there by now, most of it modules, out of it."""
    gc.set_threshold(50_000, 20, 100)
    gc.collect()
    gc.freeze()


@pytest.fixture(scope="session")
def empty_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with tables and nothing in them, made once; to be copied, never to be changed."""
    folder = tmp_path_factory.mktemp("empty-data")
    opened = open_database(f"sqlite:///{folder / 'pathway.sqlite'}")
    fold(opened)
    opened.dispose()
    return folder


@pytest.fixture
def engine(tmp_path: Path, empty_data: Path) -> Iterator[Engine]:
    """A fresh database."""
    yield from _copied(empty_data, tmp_path / "test.sqlite")


@pytest.fixture
def pieces(engine: Engine) -> Pieces:
    """An empty shelf."""
    return Pieces(engine)


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with the demo pieces, planned once; to be copied, never to be changed."""
    folder = tmp_path_factory.mktemp("demo-data")
    opened = open_database(f"sqlite:///{folder / 'pathway.sqlite'}")
    load_demo(Pieces(opened), PracticeLog(opened))
    fold(opened)
    opened.dispose()
    return folder


@pytest.fixture
def stocked(tmp_path: Path, demo_data: Path) -> Iterator[Engine]:
    """A database with the demo pieces."""
    yield from _copied(demo_data, tmp_path / "stocked.sqlite")


def _copied(folder: Path, path: Path) -> Iterator[Engine]:
    shutil.copy(folder / "pathway.sqlite", path)
    opened = open_database(f"sqlite:///{path}")
    yield opened
    opened.dispose()


@pytest.fixture(scope="session")
def small_plan() -> Plan:
    """A plan with slurs, accents, dots and a rest."""
    return plan_of("[mf] (d4:4 e4) f#4:8 g4 a4:4> | b4:8. a4. g4. f#4. (e4:2) | r:4 [p] (d4:4d e4:8 f#4:4) | d4:1")
