"""Hints over the sheet."""

from pathway.web.sheet.tips import TIPS, tip_for


def test_tips_come_one_after_the_other() -> None:
    """Each change of a piece brings the next, round and round."""
    shown = [tip_for(n) for n in range(2 * len(TIPS))]
    assert shown[: len(TIPS)] == list(TIPS) == shown[len(TIPS) :]
