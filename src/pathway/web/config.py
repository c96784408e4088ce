"""How the app is run."""

from dataclasses import dataclass, field
from pathlib import Path

from platformdirs import user_data_path
from sqlalchemy import URL


@dataclass(frozen=True, slots=True)
class AppSettings:
    """Where the data lie and which names the server answers to."""

    data: Path = field(default_factory=lambda: user_data_path("pathway", appauthor=False))
    demo: bool = False
    hosts: tuple[str, ...] = ("127.0.0.1", "localhost", "[::1]")

    @property
    def database_url(self) -> str:
        """Return the database's address."""
        return URL.create("sqlite", database=str(self.data / "pathway.sqlite")).render_as_string()
