"""What a player chose once for the whole app."""

from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy import Engine
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from pathway.core.guide.cues import School
from pathway.core.guide.speech import PLAIN, Lengths, Speech, Weights
from pathway.store.database import writing
from pathway.store.models import ChoiceRow

_NAME = "player"


class Choices(BaseModel):
    """The player's choices; each has a usual value."""

    model_config = ConfigDict(frozen=True)

    rig: str = "violin"  # that new pieces are played on, where their part does not say
    school: School = School.HAND
    lengths: Lengths = Lengths.CM
    weights: Weights = Weights.GRAMS
    tips: bool = True
    sharp_name: str = PLAIN.sharp_name  # what the stroke with a hard start is called

    @property
    def speech(self) -> Speech:
        """Return how the player is told lengths, weights and names."""
        return Speech(self.lengths, self.weights, self.sharp_name)


class ChoiceStore:
    """Keeps the choices."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._held: Choices | None = None

    def get(self) -> Choices:
        """Return the choices as they are now; as usual where the data are damaged, for that has to be told."""
        if self._held is None:
            try:
                with Session(self._engine) as session:
                    row = session.get(ChoiceRow, _NAME)
            except DatabaseError:
                return Choices()
            self._held = _read(row.value) if row else Choices()
        return self._held

    def forget(self) -> None:
        """Read them anew next time: other data stand in the place of the old ones."""
        self._held = None

    def set(self, choices: Choices) -> None:
        """Keep other choices."""
        with writing(self._engine) as session:
            session.merge(ChoiceRow(name=_NAME, value=choices.model_dump(mode="json")))
        self._held = choices


def _read(value: dict[str, object]) -> Choices:
    """Return choices; what cannot be read of them is as usual."""
    try:
        return Choices.model_validate(value)
    except ValidationError as error:
        wrong = {str(one["loc"][0]) for one in error.errors() if one["loc"]}
        return Choices.model_validate({key: kept for key, kept in value.items() if key not in wrong})
