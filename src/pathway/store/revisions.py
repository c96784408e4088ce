"""States of a plan: what the player wished and the path found for it, as values and as columns."""

from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from pydantic import ValidationError

from pathway.core.planning import Lock, Path, Settings
from pathway.core.planning.wishes import Wishes
from pathway.errors import DataError
from pathway.formats.wishes_document import ALL_WISHES, WishesDoc, wishes_document
from pathway.store.summary import PlanSummary, summary_from

MENDING = "Mend it on the shelf, or go back to a copy in the settings."


@dataclass(frozen=True)
class Revision:
    """One state of a plan: the player's wishes and the path found for them."""

    label: str
    settings: Settings
    locks: tuple[Lock, ...]
    path: Path
    summary: PlanSummary


class _Row(Protocol):
    wishes: Any
    path: Any
    summary: Any


def columns_of(revision: Revision) -> dict[str, Any]:
    """Return a state as columns of JSON."""
    path = revision.path
    return {
        "wishes": wishes_document(Wishes(revision.settings, revision.locks)),
        "path": {
            "directions": path.directions.tolist(),
            "starts": path.starts.tolist(),
            "ends": path.ends.tolist(),
            "links": path.links.tolist(),
        },
        "summary": revision.summary.model_dump(mode="json"),
    }


def revision_of(label: str, row: _Row) -> Revision:
    """Return the state that a row's columns hold.

    Raises:
        DataError: they hold none.
    """
    try:
        wishes = ALL_WISHES.read(WishesDoc.model_validate(row.wishes))
        path = Path(
            np.array(row.path["directions"], dtype=np.int64),
            np.array(row.path["starts"], dtype=np.float64),
            np.array(row.path["ends"], dtype=np.float64),
            np.array(row.path["links"], dtype=np.int64),
        )
        return Revision(label, wishes.settings, wishes.locks, path, summary_from(row.summary))
    except (ValidationError, KeyError, TypeError, ValueError) as error:
        raise DataError(
            f"The state “{label}” of this piece cannot be read",
            advice=MENDING,
        ) from error
