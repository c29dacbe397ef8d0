"""Tables kept between starts: the same figures, whatever stands in the folder."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import demo_profile

from rehearsal.core.icc import Profile
from rehearsal.core.icc.standard import working_space
from rehearsal.core.proof import printmap
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.once import LastUsed
from rehearsal.main import main
from rehearsal.tasks import tables
from rehearsal.tasks.tables import KeptTables

LAB = np.array([[50.0, 10.0, 10.0], [20.0, 60.0, -40.0], [95.0, -3.0, 8.0]], dtype=np.float32)


@pytest.fixture
def start(monkeypatch: pytest.MonkeyPatch) -> Iterator[object]:
    """A program that has just begun: ``start()`` forgets all tables and answers with the lattices made since."""

    def begin() -> dict[str, DeltaLattice]:
        made: dict[str, DeltaLattice] = {}
        monkeypatch.setattr(tables, "delta_lattice", lambda p: made.setdefault(p.digest, DeltaLattice(p)))
        monkeypatch.setattr(printmap, "_tables", LastUsed(12))
        return made

    yield begin


def _work(paper: Profile, lattices: dict[str, DeltaLattice]) -> tuple[np.ndarray, np.ndarray]:
    """What a judgement asks for."""
    chain = PrintChain(working_space("sRGB"), paper, Rendering())
    return lattices.setdefault(paper.digest, DeltaLattice(paper)).look_up(LAB), printmap.print_table(chain)


def test_what_is_kept_is_what_was_made(tmp_path: Path, dune: Profile, start, monkeypatch: pytest.MonkeyPatch) -> None:  # type: ignore[no-untyped-def]
    kept = KeptTables(tmp_path / "tables")
    first = _work(dune, start())
    kept.keep(dune)
    lattices = start()
    KeptTables(tmp_path / "tables").fetch(dune)
    monkeypatch.setattr(DeltaLattice, "_compute", lambda *_a: pytest.fail("made anew"))
    monkeypatch.setattr(PrintChain, "print_lab", lambda *_a: pytest.fail("made anew"))
    for now, then in zip(_work(dune, lattices), first, strict=True):
        np.testing.assert_array_equal(now, then)


def test_what_is_at_hand_is_not_read_again(
    tmp_path: Path, dune: Profile, start, monkeypatch: pytest.MonkeyPatch
) -> None:  # type: ignore[no-untyped-def]
    kept = KeptTables(tmp_path)
    _work(dune, start())
    kept.keep(dune)
    read: list[Path] = []
    real = tables.read_regular
    monkeypatch.setattr(tables, "read_regular", lambda path: (read.append(path), real(path))[1])
    kept.fetch(dune)
    assert not read
    start()  # given up meanwhile, for want of room
    kept.fetch(dune)
    kept.fetch(dune)
    assert len(read) == 1


def test_kept_nodes_do_not_take_the_place_of_new_ones(dune: Profile) -> None:
    one, two = DeltaLattice(dune), DeltaLattice(dune)
    wanted = one.look_up(LAB)
    new = two.look_up(LAB[:1])
    places, values = one.known()
    two.adopt(places, values + np.float32(0.5))
    np.testing.assert_array_equal(two.look_up(LAB[:1]), new)
    np.testing.assert_allclose(two.look_up(LAB[1:]), wanted[1:] + 0.5, atol=1e-4)
    np.testing.assert_array_equal(two.known()[0], places)


def test_written_again_only_when_notably_more_is_known(tmp_path: Path, dune: Profile, start) -> None:  # type: ignore[no-untyped-def]
    kept, lattices = KeptTables(tmp_path), start()
    _work(dune, lattices)
    kept.keep(dune)
    (path,) = tmp_path.glob("*.npz")
    path.unlink()
    kept.keep(dune)
    assert not path.exists()
    lattices[dune.digest].look_up(np.array([[70.0, 70.0, 70.0]], np.float32))
    kept.keep(dune)
    assert path.exists()


@pytest.mark.parametrize(
    "harm", ["cut", "noise", "nan", "wide", "order", "outside", "other profile", "other engine", "object"]
)
def test_a_harmed_file_is_as_good_as_none(tmp_path: Path, dune: Profile, start, harm: str) -> None:  # type: ignore[no-untyped-def]
    first = _work(dune, start())
    KeptTables(tmp_path).keep(dune)
    (path,) = tmp_path.glob("*.npz")
    data = dict(np.load(path))
    about = json.loads(str(data["about"]))
    if harm == "cut":
        path.write_bytes(path.read_bytes()[:-5000])
    elif harm == "noise":
        path.write_bytes(b"PK\x03\x04" + bytes(range(256)) * 9)
    else:
        _harm(data, about, harm)
        np.savez(path, **{**data, "about": np.array(json.dumps(about))})
    lattices = start()
    KeptTables(tmp_path).fetch(dune)
    assert all(not len(lattice.known()[0]) for lattice in lattices.values())
    for now, then in zip(_work(dune, lattices), first, strict=True):
        np.testing.assert_array_equal(now, then)
    KeptTables(tmp_path).keep(dune)  # and a sound one takes its place
    lattices = start()
    KeptTables(tmp_path).fetch(dune)
    assert len(lattices[dune.digest].known()[0])


def _harm(data: dict[str, np.ndarray], about: dict[str, object], harm: str) -> None:
    if harm == "nan":
        data["values"][3, 1] = np.nan
    elif harm == "wide":
        data["values"] = data["values"][:, :3]
    elif harm == "order":
        data["places"] = data["places"][::-1].copy()
    elif harm == "outside":
        data["places"][-1] = 10**9
    elif harm == "other profile":
        about["profile"] = "0" * 64
    elif harm == "other engine":
        about["made"] = [1, "1.0", 49]
    else:
        data["values"] = np.array([{"an": "object"}], dtype=object)


def test_whatever_is_done_to_a_file_nothing_is_raised(tmp_path: Path, dune: Profile, start) -> None:  # type: ignore[no-untyped-def]
    """An archive has many ways to be wrong: another compression, a lock, lengths that lie."""
    lattices = start()
    first = _work(dune, lattices)
    KeptTables(tmp_path).keep(dune)
    (path,) = tmp_path.glob("*.npz")
    whole, rng = path.read_bytes(), np.random.default_rng(9)
    heads = [m.start() for m in re.finditer(rb"PK(\x01\x02|\x03\x04|\x05\x06)", whole)]
    for case in range(80):
        data = bytearray(whole)
        at = heads[case % len(heads)] + int(rng.integers(0, 60))
        data[min(at, len(data) - 1)] ^= int(rng.integers(1, 256))
        path.write_bytes(data)
        lattices = start()
        KeptTables(tmp_path).fetch(dune)
    np.testing.assert_array_equal(_work(dune, lattices)[0], first[0])


@pytest.mark.parametrize("harm", ["short", "nan"])
def test_a_harmed_print_is_not_taken(tmp_path: Path, dune: Profile, start, harm: str) -> None:  # type: ignore[no-untyped-def]
    _work(dune, start())
    KeptTables(tmp_path).keep(dune)
    (path,) = tmp_path.glob("*.npz")
    data = dict(np.load(path))
    table = data["print0"][:-1] if harm == "short" else np.full_like(data["print0"], np.nan)
    np.savez(path, **{**data, "print0": table})
    start()
    KeptTables(tmp_path).fetch(dune)
    assert printmap.made_for(dune.digest) == []


def test_each_paper_has_its_own_file(tmp_path: Path, dune: Profile, gloss: Profile, start) -> None:  # type: ignore[no-untyped-def]
    lattices = start()
    _work(dune, lattices)
    _work(gloss, lattices)
    KeptTables(tmp_path).keep(gloss)
    (path,) = tmp_path.glob("*.npz")
    about = json.loads(str(np.load(path)["about"]))
    assert path.stem == gloss.digest and len(about["prints"]) == 1 and gloss.digest in about["prints"][0]


def test_the_last_papers_are_kept_and_nothing_else_grows(tmp_path: Path, dune: Profile, start) -> None:  # type: ignore[no-untyped-def]
    for i in range(20):
        (tmp_path / f"{i:02d}.npz").write_bytes(b"old")
    _work(dune, start())
    KeptTables(tmp_path).keep(dune)
    left = sorted(path.name for path in tmp_path.iterdir())
    assert len(left) == 16 and f"{dune.digest}.npz" in left


def test_without_a_place_to_write_it_goes_on(tmp_path: Path, dune: Profile, start) -> None:  # type: ignore[no-untyped-def]
    (tmp_path / "tables").write_text("a file where the folder should be")
    kept = KeptTables(tmp_path / "tables")
    first = _work(dune, start())
    kept.keep(dune)
    lattices = start()
    kept.fetch(dune)
    np.testing.assert_array_equal(_work(dune, lattices)[0], first[0])


def test_the_judge_command_says_the_same_with_kept_tables(
    little_cloths: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    paper = demo_profile("SK24_WhiteDune_Hi.icc").where
    said = []
    for _ in range(2):
        assert main(["judge", str(little_cloths), "--paper", paper, "--json"]) == 0
        said.append(capsys.readouterr().out)
    assert said[0] == said[1] and len(list((tmp_path / "rehearsal" / "tables").iterdir())) == 1
