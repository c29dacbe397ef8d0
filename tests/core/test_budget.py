"""What is kept for later: how much it takes, what goes first, and that nothing that stopped is held."""

from __future__ import annotations

import gc
import threading
import time
import weakref

import numpy as np
import pytest

from rehearsal.core.work import pool
from rehearsal.core.work.memory import size_of
from rehearsal.core.work.once import BUDGET, Budget, LastUsed, once
from rehearsal.core.work.pool import side_by_side

_BLOCK = 1000


def _block() -> np.ndarray:
    return np.zeros(_BLOCK, np.uint8)


class _Thing:
    """Something that is made of other things."""

    def __init__(self) -> None:
        self.one, self.rest = _block(), {"two": (_block(), [b"x" * 10]), "word": "not counted"}

    @once
    def later(self) -> np.ndarray:
        """Made when it is asked for."""
        return _block()


def test_the_size_of_a_thing_is_that_of_its_arrays_each_counted_once() -> None:
    thing = _Thing()
    assert size_of(thing, set()) == 2 * _BLOCK + 10
    assert thing.later is not None
    assert size_of(thing, set()) == 3 * _BLOCK + 10
    assert size_of([thing.one, thing.one, thing], set()) == 3 * _BLOCK + 10
    assert size_of(thing.one[:10].reshape(2, 5), set()) == _BLOCK, "a view holds the whole array"
    counted: set[int] = set()
    assert size_of(thing, counted) > 0 and size_of(thing.one[3:], counted) == 0
    assert size_of((1, 2.5, "text", None, len, _Thing), set()) == 0


def test_what_was_used_longest_ago_goes_first_whatever_its_kind() -> None:
    budget = Budget(4 * _BLOCK)
    papers, roads = LastUsed[np.ndarray](9, budget), LastUsed[np.ndarray](9, budget)
    for key in "abc":
        papers.get(key, _block)
    roads.get("r", _block)
    assert papers.peek("a") is not None  # used again: b is the oldest now
    roads.get("s", _block)
    assert [key for key, _ in papers.items()] == ["c", "a"]
    assert [key for key, _ in roads.items()] == ["r", "s"]
    assert budget.settle() == 4 * _BLOCK


def test_the_last_of_each_kind_stays_whatever_it_takes() -> None:
    budget = Budget(_BLOCK)
    pictures, roads = LastUsed[np.ndarray](9, budget), LastUsed[np.ndarray](9, budget)
    pictures.get("large", lambda: np.zeros(50 * _BLOCK, np.uint8))
    for key in "xyz":
        roads.get(key, _block)
    assert [key for key, _ in pictures.items()] == ["large"] and [key for key, _ in roads.items()] == ["z"]


def test_the_number_kept_holds_within_the_budget() -> None:
    few = LastUsed[np.ndarray](2, Budget(100 * _BLOCK))
    for key in "abc":
        few.put(key, _block())
    assert [key for key, _ in few.items()] == ["b", "c"]


def test_what_was_used_since_is_not_dropped() -> None:
    kept = LastUsed[np.ndarray](9, Budget(9 * _BLOCK))
    kept.put("a", _block())
    (key, _made, tick) = kept.entries()[0]
    assert kept.peek("a") is not None
    kept.drop(key, tick)
    assert kept.peek("a") is not None


def test_parts_of_a_thing_are_not_taken_out_of_it() -> None:
    counted = len(BUDGET._kinds)
    thing = _Thing()
    assert thing.later is thing.later and len(BUDGET._kinds) == counted


@pytest.mark.parametrize("where", [0, 1])
def test_an_error_in_shared_work_holds_nothing(where: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """Without the collector: an error and the frame it passed through must not hold each other."""
    monkeypatch.setattr(pool, "cores", lambda: 2)
    held: list[weakref.ref[_Thing]] = []

    def fails() -> None:
        large = _Thing()
        held.append(weakref.ref(large))
        raise ValueError("stopped")

    def waits() -> None:
        time.sleep(0.01)

    def go() -> None:
        works = [waits, waits]
        works[where] = fails
        with pytest.raises(ValueError, match="stopped"):
            side_by_side(works)

    gc.collect()
    gc.disable()
    try:
        go()
        end = time.monotonic() + 10
        while held[0]() is not None and time.monotonic() < end:
            side_by_side([waits] * 3)  # a thread lets go of its last work when it takes the next
        assert held[0]() is None
    finally:
        gc.enable()


def test_whoever_shares_out_does_not_wait_for_threads_that_are_busy(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pool, "cores", lambda: 2)
    go, busy = threading.Event(), pool._pool()._max_workers
    blockers = [pool._pool().submit(go.wait, 30) for _ in range(busy)]
    try:
        done: list[int] = []
        pool.in_slices(120, lambda part: done.extend(range(part.start, part.stop)), small=10)
        assert sorted(done) == list(range(120)) and not go.is_set()
    finally:
        go.set()
        for blocker in blockers:
            blocker.result()


class _Enough(Exception):
    pass


@pytest.mark.parametrize("count", [10, 120])
def test_array_work_that_is_stopped_does_not_begin_another_piece(count: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pool, "cores", lambda: 2)
    stopped = threading.Event()
    begun: list[int] = []

    def check() -> None:
        if stopped.is_set():
            raise _Enough

    def work(part: slice) -> None:
        begun.append(part.start)
        stopped.set()
        time.sleep(0.02)

    with pool.heeding(check), pytest.raises(_Enough):
        for _ in range(2):
            pool.in_slices(count, work, small=10)
    assert 1 <= len(begun) <= 2, "one for each core at the most"
    pool.in_slices(count, work, small=10)  # work of others is not stopped by it


def test_pieces_in_one_thread_heed_a_stop_too() -> None:
    stopped: list[int] = []

    def check() -> None:
        if stopped:
            raise _Enough

    def inner() -> None:
        with pytest.raises(_Enough):
            side_by_side([lambda: stopped.append(1), lambda: stopped.append(2)])

    pool._shared(inner, check)
    assert stopped == [1]


def test_work_in_turn_waits_and_may_be_stopped_while_it_waits() -> None:
    gate, order, wanted = threading.Lock(), list[str](), [True]

    def check() -> None:
        if not wanted[0]:
            raise _Enough

    def second() -> None:
        with pool.heeding(check), pytest.raises(_Enough), pool.in_turn(gate):
            order.append("second")

    with pool.in_turn(gate):
        thread = threading.Thread(target=second)
        thread.start()
        time.sleep(0.1)
        wanted[0] = False
        thread.join(10)
        order.append("first")
    with pool.in_turn(gate):
        order.append("third")
    assert order == ["first", "third"] and not gate.locked()
