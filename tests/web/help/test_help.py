"""The help, and that every room opens."""

import pytest
from fastapi.testclient import TestClient

from pathway.core.guide.differences import ChosenIn
from pathway.web.help.routes import PAGES


@pytest.mark.parametrize("page", ["/help", "/help/schools", "/keys", "/settings", "/rigs", "/rigs/bass-viol"])
def test_the_rooms_open(demo: TestClient, page: str) -> None:
    """Each with a title of its own."""
    answer = demo.get(page)
    assert answer.status_code == 200
    assert answer.text.count("<h1") == 1


@pytest.mark.parametrize("where", ChosenIn)
def test_every_choice_of_schools_leads_somewhere(demo: TestClient, where: ChosenIn) -> None:
    """The pages named on the page of schools are there."""
    assert demo.get(PAGES[where]).status_code == 200
