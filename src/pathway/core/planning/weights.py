"""A number that decides between ways to play, with what it stands for."""

from collections.abc import Iterator, Mapping


class Weight(float):
    """A number of our choice, once: its unit, the ground it stands on, and the sentence it stands for."""

    unit: str
    sentence: str
    ground: str

    def __new__(cls, value: float, unit: str, sentence: str, ground: str = "our choice") -> "Weight":
        """Return the number; it computes as a plain one."""
        weight = super().__new__(cls, value)
        weight.unit, weight.sentence, weight.ground = unit, sentence, ground
        return weight


def rows_of(table: Mapping[str, object]) -> Iterator[str]:
    """Yield the weights of a module as rows of a table for the documents."""
    for name, value in table.items():
        if isinstance(value, Weight):
            yield f"| {name} | {value:g} | {value.unit} | {value.sentence} | {value.ground} |"
