"""Long work takes turns: edits first, a few at a time, given up when nobody waits, refused when there is too much."""

import asyncio
import threading
import time
from collections.abc import Callable
from types import SimpleNamespace
from typing import cast

import numpy as np
import pytest
from fastapi import Request
from fastapi.testclient import TestClient
from starlette.responses import Response

from pathway.core.sound import playable, render
from pathway.core.steps import step
from pathway.desk.hands import Hands
from pathway.errors import Busy, PlanError, Stopped
from pathway.web.shared.turns import MOST_IN_LINE, LongWork, Turns
from tests.helpers import plan_of
from tests.web.asking import HTMX


def _asking(gone: Callable[[], bool] = lambda: False) -> Request:
    """Return a request of someone who is gone once that is so."""

    async def is_disconnected() -> bool:
        return gone()

    return cast(Request, SimpleNamespace(is_disconnected=is_disconnected))


def test_a_hand_goes_before_what_takes_long() -> None:
    """Work stands still between two steps as long as a hand is at work."""
    hands, order, begun = Hands(), list[str](), threading.Event()
    turns = Turns(hands)

    def work() -> Response:
        begun.set()
        while not hands._count:
            time.sleep(0.01)
        step()
        order.append("work")
        return Response()

    async def both() -> None:
        job = asyncio.create_task(turns.take(LongWork.SOUND, _asking(), work))
        await asyncio.to_thread(begun.wait)
        with hands.at_work():
            await asyncio.sleep(0.2)
            order.append("hand")
        await job

    asyncio.run(both())
    assert order == ["hand", "work"]
    turns.stop()


def test_what_nobody_waits_for_is_given_up() -> None:
    """Between two steps of it, and before its turn has come."""
    turns, ended, begun, left = Turns(Hands()), list[str](), list[int](), threading.Event()

    def work() -> Response:
        begun.append(1)
        left.set()
        try:
            while True:
                time.sleep(0.01)
                step()
        except Stopped:
            ended.append("given up")
            raise

    async def asked() -> None:
        jobs = [turns.take(LongWork.SOUND, _asking(left.is_set), work) for _ in range(3)]
        found = await asyncio.gather(*jobs, return_exceptions=True)
        assert [type(one) for one in found] == [Stopped] * 3
        while not ended:
            await asyncio.sleep(0.01)
        assert await turns.take(LongWork.SOUND, _asking(), Response) is not None

    asyncio.run(asked())
    assert begun == [1]
    assert ended == ["given up"]
    turns.stop()


def test_more_than_can_be_worked_on_is_refused() -> None:
    """In words; once there is room again it is taken, and another kind of work never waited."""
    turns, go_on = Turns(Hands()), threading.Event()

    def work() -> Response:
        go_on.wait()
        return Response()

    async def asked() -> None:
        jobs = [asyncio.create_task(turns.take(LongWork.SOUND, _asking(), work)) for _ in range(MOST_IN_LINE)]
        await asyncio.sleep(0.05)
        with pytest.raises(Busy, match="Too much is asked for at once"):
            await turns.take(LongWork.SOUND, _asking(), work)
        await turns.take(LongWork.READING, _asking(), Response)
        go_on.set()
        await asyncio.gather(*jobs)
        await turns.take(LongWork.SOUND, _asking(), work)

    asyncio.run(asked())
    turns.stop()


def test_many_that_want_sound_keep_no_page_waiting(shelf: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Forty-five at once: each has its sound, one after the other, or is told; pages and edits go on meanwhile."""
    at_once, most = [0], [0]

    def slowly(*args: object, **more: object) -> object:
        at_once[0] += 1
        most[0] = max(most[0], at_once[0])
        time.sleep(0.02)
        at_once[0] -= 1
        return render(*args, **more)  # type: ignore[arg-type]

    monkeypatch.setattr("pathway.desk.hearing.render", slowly)
    answers: list[int] = []

    def ask(path: str) -> None:
        answers.append(shelf.get(path).status_code)

    with shelf:
        asks = [
            threading.Thread(
                target=lambda n=n: answers.append(
                    shelf.get(f"/pieces/1/sound.wav?begin={n / 50}&end={n / 50 + 1}").status_code
                )
            )
            for n in range(45)
        ]
        for one in asks:
            one.start()
        edit = {"notes": "n5", "version": 0, "what": "direction", "value": "up"}
        assert shelf.post("/pieces/1/edit", data=edit, headers=HTMX).status_code == 200
        assert shelf.get("/").status_code == 200
        for one in asks:
            one.join()
    assert most == [1]
    assert set(answers) <= {200, 503}
    assert answers.count(200) >= MOST_IN_LINE


def test_a_note_without_end_is_sounded_to_a_limit(monkeypatch: pytest.MonkeyPatch) -> None:
    """The sound is cut inside the note, and fades; more than can be held at once is refused."""
    plan = playable(plan_of("[mf] d4:4 e4 f#4 g4:1"))
    whole = render(plan)
    assert not whole.curves.cut_off
    last = plan.notes[-1].onset - plan.notes[0].onset
    monkeypatch.setattr("pathway.core.sound.gestures.MOST_AT_ONCE", last + 0.01)
    monkeypatch.setattr("pathway.core.sound.gestures._LONGEST", 0.6)
    cut = render(plan)
    assert cut.curves.cut_off
    assert whole.seconds - cut.seconds > 0.5
    assert np.abs(cut.samples[-400:]).max() < 0.03 * np.abs(cut.samples).max()
    monkeypatch.setattr("pathway.core.sound.gestures.MOST_AT_ONCE", last - 0.1)
    with pytest.raises(PlanError, match="too long to be sounded at once"):
        render(plan)
