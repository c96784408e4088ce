"""States of a plan: what the player wished and the path found for it, as values and as columns."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from pydantic import TypeAdapter

from pathway.core.planning import Lock, Settings
from pathway.core.planning.path.problem import Path

_SETTINGS, _LOCKS = TypeAdapter(Settings), TypeAdapter(tuple[Lock, ...])


@dataclass(frozen=True)
class Revision:
    """One state of a plan: the player's wishes and the path found for them."""

    label: str
    settings: Settings
    locks: tuple[Lock, ...]
    path: Path
    summary: Mapping[str, object]


class _Row(Protocol):
    settings: Any
    locks: Any
    path: Any
    summary: Any


def columns_of(revision: Revision) -> dict[str, Any]:
    """Return a state as columns of JSON."""
    path = revision.path
    return {
        "settings": _SETTINGS.dump_python(revision.settings, mode="json", exclude_defaults=True),
        "locks": _LOCKS.dump_python(revision.locks, mode="json", exclude_defaults=True),
        "path": {
            "directions": path.directions.tolist(),
            "starts": path.starts.tolist(),
            "ends": path.ends.tolist(),
            "links": path.links.tolist(),
        },
        "summary": dict(revision.summary),
    }


def revision_of(label: str, row: _Row) -> Revision:
    """Return the state that a row's columns hold."""
    path = row.path
    return Revision(
        label=label,
        settings=_SETTINGS.validate_python(row.settings),
        locks=_LOCKS.validate_python(row.locks),
        path=Path(
            np.array(path["directions"], dtype=np.int64),
            np.array(path["starts"], dtype=np.float64),
            np.array(path["ends"], dtype=np.float64),
            np.array(path["links"], dtype=np.int64),
        ),
        summary=row.summary,
    )
