"""Threads: nothing costly is made under a lock, and whoever shares work out never stands still for ever."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from rehearsal.core.icc import Profile
from rehearsal.core.papers.model import PaperModel
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.work import files, pool
from rehearsal.core.work.once import LastUsed, once
from rehearsal.core.work.pool import cores, in_slices, side_by_side

_LONG = 30.0


def _thread(work: Callable[[], Any]) -> threading.Thread:
    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    return thread


class _Slow:
    """An object with two things that take as long as they are told to; counts how often each was made."""

    def __init__(self) -> None:
        self.begun, self.go, self.count = threading.Event(), threading.Event(), 0

    @once
    def table(self) -> int:
        """Made when told."""
        self.count += 1
        self.begun.set()
        assert self.go.wait(_LONG)
        return 7

    @once
    def quick(self) -> str:
        """Made at once."""
        return "there"


def test_one_objects_long_work_holds_neither_another_object_nor_another_thing() -> None:
    busy, other = _Slow(), _Slow()
    other.go.set()
    thread = _thread(lambda: busy.table)
    assert busy.begun.wait(_LONG)
    found: list[object] = []
    quick = _thread(lambda: found.extend([other.table, busy.quick]))
    quick.join(5)
    assert found == [7, "there"]
    busy.go.set()
    thread.join(_LONG)
    assert busy.table == 7 and busy.count == 1


def test_what_is_being_made_is_waited_for_and_made_once() -> None:
    busy, found = _Slow(), []
    threads = [_thread(lambda: found.append(busy.table)) for _ in range(4)]
    assert busy.begun.wait(_LONG)
    busy.go.set()
    for thread in threads:
        thread.join(_LONG)
    assert found == [7] * 4 and busy.count == 1


def test_a_failed_making_is_tried_again_by_the_next_one() -> None:
    kept: LastUsed[int] = LastUsed(2)
    with pytest.raises(ZeroDivisionError):
        kept.get("a", lambda: 1 // 0)
    assert kept.peek("a") is None and kept.get("a", lambda: 1) == 1
    for key in "bc":
        kept.get(key, lambda: 2)
    assert kept.peek("a") is None and kept.peek("b") == 2
    with pytest.raises(RuntimeError, match="asks for itself"):
        kept.get("d", lambda: kept.get("d", lambda: 1))


def test_three_threads_that_want_what_one_of_them_makes_by_sharing_out_come_to_an_end() -> None:
    # every thread of the pool waits for a thing whose maker shares its own work out to that very pool
    kept: LastUsed[float] = LastUsed(4)
    begun, waiting = threading.Event(), threading.Semaphore(0)

    def make() -> float:
        begun.set()
        for _ in range(cores()):
            assert waiting.acquire(timeout=_LONG)
        out = np.zeros(100_000)
        in_slices(len(out), lambda part: out.__setitem__(part, 1.0))
        return float(out.sum())

    def want() -> float:
        waiting.release()
        return kept.get("table", make)

    maker = _thread(lambda: kept.get("table", make))
    assert begun.wait(_LONG)
    found: list[list[float]] = []
    rest = [_thread(lambda: found.append(side_by_side([want] * (cores() + 1)))) for _ in range(2)]
    for thread in (maker, *rest):
        thread.join(_LONG)
        assert not thread.is_alive()
    assert found == [[100_000.0] * (cores() + 1)] * 2


def test_the_pool_follows_the_cores_of_this_machine(monkeypatch: pytest.MonkeyPatch) -> None:
    assert cores() == len(os.sched_getaffinity(0))
    monkeypatch.setattr(os, "sched_getaffinity", lambda _pid: set(range(5)))
    slices: list[slice] = []
    in_slices(1000, slices.append, small=10)
    assert len(slices) == 3 * 5
    assert sorted(i for s in slices for i in range(s.start, s.stop)) == list(range(1000))
    monkeypatch.setattr(os, "sched_getaffinity", lambda _pid: {0})
    begun: list[str] = []
    side_by_side([lambda: begun.append(threading.current_thread().name)] * 3)
    assert begun == [threading.current_thread().name] * 3
    assert pool._pool()._max_workers >= 1


def test_papers_do_not_wait_for_each_others_table(
    dune: Profile, gloss: Profile, monkeypatch: pytest.MonkeyPatch
) -> None:
    begun, go = threading.Event(), threading.Event()
    real = PaperModel.nearest

    def slow(self: PaperModel, lab: np.ndarray) -> Any:
        if self.profile.digest == dune.digest:
            begun.set()
            go.wait(_LONG)
        return real(self, lab)

    monkeypatch.setattr(PaperModel, "nearest", slow)
    held, free = DeltaLattice(dune), DeltaLattice(gloss)
    lab, answers = np.array([[50.0, 90.0, 0.0]]), {}
    first = _thread(lambda: answers.update(dune=held.delta(lab)))
    assert begun.wait(_LONG)
    second = _thread(lambda: answers.update(gloss=free.delta(lab)))
    # colours of the held paper that another thread has claimed are waited for, not made twice
    third = _thread(lambda: answers.update(again=held.delta(lab)))
    second.join(_LONG)
    assert not go.is_set()
    assert "gloss" in answers and "dune" not in answers and "again" not in answers
    go.set()
    first.join(_LONG)
    third.join(_LONG)
    np.testing.assert_array_equal(answers["dune"], answers["again"])
    assert answers["dune"][0] == pytest.approx(held.exact(lab)[0], abs=0.3)


def test_nodes_whose_making_failed_can_be_made_by_the_next_one(dune: Profile, monkeypatch: pytest.MonkeyPatch) -> None:
    field, lab = DeltaLattice(dune), np.array([[50.0, 90.0, 0.0]])
    with monkeypatch.context() as broken:
        broken.setattr(PaperModel, "nearest", lambda _self, _lab: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            field.delta(lab)
    assert field.delta(lab)[0] > 1


def test_kernels_are_compiled_where_no_cache_can_be_written(tmp_path: Path) -> None:
    """A read-only copy of a module, and a home nobody can write to: it starts, and says that it is slower."""
    (tmp_path / "loops.py").write_text(
        "import numpy as np\nfrom rehearsal.core.work.kernels import kernel, slow_start_words\n"
        "@kernel\ndef twice(x):\n    return 2 * x\n"
        "print(slow_start_words() == '', twice(np.full(1000, 21.0))[0], slow_start_words())\n"
    )
    # told to look for a place in archives alone, the library finds none
    alone = {**os.environ, "NUMBA_CACHE_LOCATOR_CLASSES": "ZipCacheLocator", "PYTHONPATH": str(tmp_path)}
    done = subprocess.run([sys.executable, "-c", "import loops"], capture_output=True, text=True, check=True, env=alone)
    assert done.stdout.startswith("True 42.0 There is no folder for compiled parts")


def test_freed_memory_goes_back() -> None:
    code = (
        "import threading, numpy as np\n"
        "from rehearsal.core.work import memory\n"
        "held = lambda: int(open('/proc/self/statm').read().split()[1]) * 4096 / 1e6\n"
        "def work():\n"
        "    parts = [np.ones(15_000) for _ in range(1500)]\n"
        "    kept.append(parts[-1])\n"
        "kept, threads = [], [threading.Thread(target=work) for _ in range(3)]\n"
        "[t.start() for t in threads]; [t.join() for t in threads]\n"
        "full = held(); done = memory.give_back(); print(full - held(), done, memory.give_back())\n"
    )
    made = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    freed, done, again = made.stdout.split()
    assert float(freed) > 100 and done == "True", "megabytes"
    assert again == "False", "not twice within a moment"


def test_few_numbers_need_no_compiler_and_answer_alike() -> None:
    code = (
        "import sys, numpy as np\n"
        "from rehearsal.core.colour.difference import delta_e_2000\n"
        "rng = np.random.default_rng(2); one, two = rng.uniform(0, 90, (2, 60, 3))\n"
        "few = delta_e_2000(one, two); assert 'numba' not in sys.modules\n"
        "many = delta_e_2000(np.tile(one, (20, 1)), np.tile(two, (20, 1))); assert 'numba' in sys.modules\n"
        "assert np.abs(few - many[:60]).max() < 1e-9 and few.mean() > 5\n"
        "assert np.abs(delta_e_2000(one, two) - few).max() < 1e-9; print('alike')\n"
    )
    made = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
    assert made.stdout.strip() == "alike", made.stderr


def test_the_window_is_imported_without_compiler_and_filters() -> None:
    code = "import sys, rehearsal.desk.start; print([m for m in ('numba', 'scipy', 'pyvips', 'reportlab') if m in sys.modules])"
    made = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert made.stdout.strip() == "[]"


def test_what_is_half_written_is_removed_when_nobody_waits_for_it(tmp_path: Path) -> None:
    begun, go, ended = threading.Event(), threading.Event(), []

    def write(name: str) -> None:
        Path(name).write_bytes(b"half")
        begun.set()
        assert go.wait(20)

    def work() -> None:
        try:
            files.write_beside(tmp_path / "print.tif", write)
        except OSError as error:
            ended.append(error)

    thread = threading.Thread(target=work)
    thread.start()
    assert begun.wait(20) and len(list(tmp_path.iterdir())) == 1
    files.remove_unfinished()
    assert list(tmp_path.iterdir()) == []
    go.set()
    thread.join()
    assert ended and list(tmp_path.iterdir()) == []
