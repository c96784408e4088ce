"""What is kept at hand: made once, let go when it has lain longest, and never in the way of something else."""

import threading
from collections.abc import Callable

import pytest

from pathway.desk.kept import Kept


def test_a_value_is_made_once_however_many_ask_for_it() -> None:
    """All who come while it is made get the same one."""
    kept: Kept[object] = Kept(3)
    begun, goes_on = threading.Event(), threading.Event()
    made: list[object] = []
    found: list[object] = []

    def make() -> object:
        begun.set()
        assert goes_on.wait(5)
        made.append(object())
        return made[-1]

    asking = [threading.Thread(target=lambda: found.append(kept.get_or_make("a", make))) for _ in range(4)]
    for thread in asking:
        thread.start()
    assert begun.wait(5)
    goes_on.set()
    for thread in asking:
        thread.join(5)
    assert len(made) == 1
    assert found == made * 4


def test_while_one_is_made_another_can_be_had() -> None:
    """A long piece that is opened, or a take that is listened to, keeps nobody from another one."""
    kept: Kept[str] = Kept(3)
    begun, goes_on = threading.Event(), threading.Event()

    def slow() -> str:
        begun.set()
        assert goes_on.wait(5)
        return "slow"

    thread = threading.Thread(target=lambda: kept.get_or_make("slow", slow))
    thread.start()
    assert begun.wait(5)
    assert kept.get_or_make("quick", lambda: "quick") == "quick"
    goes_on.set()
    thread.join(5)
    assert kept.get_or_make("slow", lambda: "again") == "slow"


@pytest.mark.parametrize("let_go", [Kept.clear, lambda kept: kept.drop("a")], ids=["all", "one"])
def test_what_is_let_go_of_while_it_is_made_is_not_kept(let_go: Callable[[Kept[str]], None]) -> None:
    """Other data stand in the place of the old ones by then: who asked gets the old one, the next asks anew."""
    kept: Kept[str] = Kept(3)

    def make() -> str:
        let_go(kept)
        return "old"

    assert kept.get_or_make("a", make) == "old"
    assert kept.get_or_make("a", lambda: "new") == "new"
    assert kept.get_or_make("a", lambda: "newer") == "new"


def test_what_has_lain_longest_goes() -> None:
    """Looking at one keeps it; a failure keeps nothing and can be tried again."""
    kept: Kept[str] = Kept(2)
    for key in ("a", "b", "a", "c"):
        kept.get_or_make(key, lambda key=key: key)  # type: ignore[misc]
    assert kept.get_or_make("a", lambda: "anew") == "a"
    assert kept.get_or_make("b", lambda: "anew") == "anew"
    kept.drop("b")
    assert len(kept) == 1

    def fails() -> str:
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        kept.get_or_make("d", fails)
    assert kept.get_or_make("d", lambda: "d") == "d"
    kept.clear()
    assert len(kept) == 0
