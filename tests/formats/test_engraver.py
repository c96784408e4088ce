"""The engraver: what dies is started anew, what takes too long is given up, what is long holds up nothing else."""

import signal
import subprocess
import threading
from collections.abc import Iterator

import pytest

from pathway.errors import ScoreError, Stopped
from pathway.formats.engraver import Engraver, Patience

ABC = "X:1\nT:Example\nM:4/4\nL:1/4\nK:C\nC D E F|\n"
SHORT = Patience(least=0.3, per_megabyte=0, most=0.3, stalled=1.0)


@pytest.fixture
def own() -> Iterator[Engraver]:
    """An engraver with one process."""
    engraver = Engraver(workers=1)
    yield engraver
    engraver.close()


def _held_up(engraver: Engraver, which: int = 0) -> "subprocess.Popen[bytes]":
    """Return a process of an engraver, which does not go on."""
    process = engraver._workers[which].process()
    process.send_signal(signal.SIGSTOP)
    return process


def test_a_process_that_died_is_started_anew(own: Engraver) -> None:
    """The library lives in its own process; when it dies a new one takes over."""
    assert own.read(ABC, "abc")
    process = own._workers[0].process()
    process.kill()
    process.wait()
    assert own.read(ABC, "abc")


def test_a_good_score_is_read_though_the_engraver_was_killed_over_it(own: Engraver) -> None:
    """It is asked once more before the file is blamed."""
    process = _held_up(own)
    threading.Timer(0.2, process.kill).start()
    assert "<measure" in own.read(ABC, "abc")
    assert own._workers[0].process().pid != process.pid


def test_a_score_that_takes_too_long_is_refused_and_the_next_one_read(own: Engraver) -> None:
    """With how long it was waited for, and what to do."""
    own.patience = SHORT
    _held_up(own)
    with pytest.raises(ScoreError, match=r"could not be engraved in 0\.3 s.*fewer bars"):
        own.read(ABC, "abc")
    own.patience = Patience()
    assert "<measure" in own.read(ABC, "abc")


def test_only_the_librarys_own_work_tries_its_patience(own: Engraver) -> None:
    """On a busy machine it waits for its turn; what it works at for too long is given up."""
    own.patience = Patience(least=3.0, most=3.0)
    process = _held_up(own)
    threading.Timer(3.5, process.send_signal, (signal.SIGCONT,)).start()
    asked, answer = list[bytes](), own._workers[0].answer
    own._workers[0].answer = lambda sent, *more: asked.append(sent) or answer(sent, *more)  # type: ignore[func-returns-value,method-assign]
    assert "<measure" in own.read(ABC, "abc")
    assert len(asked) == 1
    own.patience = Patience(least=0.01, per_megabyte=0.0, most=0.01, stalled=1000.0)
    with pytest.raises(ScoreError, match=r"could not be engraved in 0\.01 s of work"):
        own.read(ABC.split("\n\n", maxsplit=1)[0] + "CDEF|" * 2000, "abc")


def test_a_library_that_breaks_down_twice_is_not_called_bad_music(own: Engraver) -> None:
    """It says what happened, and what to do."""
    worker = own._workers[0]
    process = worker.process

    def doomed() -> "subprocess.Popen[bytes]":
        found = process()
        found.send_signal(signal.SIGSTOP)
        threading.Timer(0.2, found.kill).start()
        return found

    worker.process = doomed  # type: ignore[method-assign]
    with pytest.raises(ScoreError, match="broke down over this score, twice"):
        own.read(ABC, "abc")


def test_the_key_of_one_tune_is_not_that_of_the_next(own: Engraver) -> None:
    """Whatever was read before it."""
    for _ in range(2):
        assert own.read(ABC.replace("K:C", "K:E"), "abc").count('accid.ges="s"') == 3
        assert 'accid.ges="s"' not in own.read(ABC, "abc")


def test_patience_grows_with_the_score_and_ends() -> None:
    """A large score is waited for longer than a small one; none so long that the player gives up first."""
    patience = Patience()
    assert patience.with_size(1_000) < 11
    assert patience.with_size(1_000) < patience.with_size(500_000) < patience.with_size(50_000_000) <= 30


def test_a_score_that_hangs_holds_up_no_other() -> None:
    """Another is read at the same time, by another process."""
    engraver = Engraver(Patience(least=20), workers=2)
    process = _held_up(engraver)
    stuck = threading.Thread(target=lambda: _refused(engraver))
    stuck.start()
    assert "<measure" in engraver.read(ABC, "abc")
    assert stuck.is_alive()
    engraver.stop()
    stuck.join(5)
    assert not stuck.is_alive()
    assert process.poll() is not None
    engraver.close()


def _refused(engraver: Engraver) -> None:
    with pytest.raises(Stopped):
        engraver.read(ABC, "abc")


def test_what_is_stopped_is_not_asked_again_and_the_next_is_read(own: Engraver) -> None:
    """A stop is no crash; it blames no file and holds for what was asked before it only."""
    _held_up(own)
    threading.Timer(0.2, own.stop).start()
    with pytest.raises(Stopped, match="as you wished"):
        own.read(ABC, "abc")
    own.stop()  # nothing is in work
    assert "<measure" in own.read(ABC, "abc")
