"""Maintainer's tool: damaged profiles and pictures, by the thousand, through both readers and all that is computed from them.

python tools/fuzz.py [--cases 2000] [--seed 1] [--seconds 300]

Each case is a real file with a few bytes changed, a piece cut out, or a table filled with random numbers. A sentence for the user
is a good answer; any other error, a crash of the process, or a case of more than ten seconds is reported with its number.
"""

from __future__ import annotations

import argparse
import multiprocessing
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.core.icc import open_profile
from rehearsal.core.icc.standard import space_bytes, working_space
from rehearsal.core.papers.facts import measure
from rehearsal.core.papers.health import health
from rehearsal.core.papers.model import check_destination
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.reduce import reduce_to
from rehearsal.core.picture.space import master_space
from rehearsal.core.picture.write import write_picture
from rehearsal.core.proof.chain import PrintChain
from rehearsal.core.proof.convert import Converter
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.values.rendering import Rendering
from rehearsal.demo.make import demo_folder

_MOST_SECONDS = 10.0
_BATCH = 25
#: Measuring a whole solid takes a second: one profile in so many.
_MEASURED = 8


def profiles() -> list[bytes]:
    """Whole profiles to damage: matrix, grey, RGB and CMYK tables of versions 2 and 4."""
    made = [space_bytes(name) for name in ("sRGB", "opRGB", "gray")]
    made += [p.read_bytes() for p in sorted((demo_folder() / "profiles").glob("*.icc"))]
    system = Path("/usr/share/color/icc/ghostscript/default_cmyk.icc")
    return [*made, system.read_bytes()] if system.exists() else made


def pictures(folder: Path) -> list[bytes]:
    """Whole pictures to damage: every format, 8 and 16 bit, grey and colour."""
    rng = np.random.default_rng(5)
    colour, grey = (
        rng.integers(0, 65536, (24, 31, 3)).astype(np.uint16),
        rng.integers(0, 256, (24, 31, 1)).astype(np.uint8),
    )
    made = []
    for name in ("a.tif", "a.png", "a.jpg"):
        for pixels, space in ((colour, "ROMM"), (grey, "gray"), ((colour >> 8).astype(np.uint8), "sRGB")):
            write_picture(pixels, working_space(space), 300, folder / name)
            made.append((folder / name).read_bytes())
    return made


def damaged(data: bytes, rng: np.random.Generator) -> bytes:
    """A few bytes changed, a piece filled with noise or with one value, or the end cut off."""
    made = bytearray(data)
    for _ in range(int(rng.integers(1, 4))):
        kind, at = rng.integers(0, 6), int(rng.integers(0, len(made)))
        length = int(rng.integers(1, max(2, len(made) // int(rng.choice([2, 20, 400])))))
        if kind <= 2:  # most faults are small ones, near the front where the structure is
            at = int(rng.integers(0, min(len(made), 700))) if kind else at
            made[at : at + int(rng.integers(1, 5))] = rng.bytes(len(made[at : at + int(rng.integers(1, 5))]) or 1)
        elif kind == 3:
            made[at : at + length] = rng.bytes(len(made[at : at + length]))
        elif kind == 4:
            made[at : at + length] = bytes([int(rng.integers(0, 256))]) * len(made[at : at + length])
        else:
            made = made[: max(1, at)]
    return bytes(made)


def through_a_profile(path: Path, whole: bool) -> None:
    """All that is done with a paper's profile and with a picture's."""
    profile = open_profile(path)
    if profile.channels in (1, 3, 4) and profile.space in ("Gray", "RGB", "CMYK"):
        values = np.random.default_rng(0).integers(0, 65536, (6, 7, profile.channels)).astype(np.uint16)
        space = master_space(profile)
        space.to_lab(reduce_to(values, space, 3, 2))
        space.index_curve.positions(17)
    check_destination(profile)
    chain = PrintChain(working_space("sRGB"), profile, Rendering("perceptual", True))
    chain.print_lab(np.random.default_rng(1).random((40, 3)))
    pixels = np.random.default_rng(3).integers(0, 65536, (6, 7, 3)).astype(np.uint16)
    for depth in (8, 16):
        converter = Converter(working_space("sRGB"), profile, Rendering("perceptual", True), depth)
        converter.rows(pixels, np.empty((6, 7, converter.channels), converter.kind))
    lab = np.random.default_rng(2).uniform([0, -120, -120], [100, 120, 120], (120, 3))
    DeltaLattice(profile).look_up(lab)
    if whole:
        health(profile, measure(profile))


def _case(number: int, seed: int, folder: Path, kinds: tuple[list[bytes], list[bytes]]) -> None:
    rng = np.random.default_rng((seed, number))
    of_profile = number % 2 == 0
    made = damaged(kinds[0 if of_profile else 1][int(rng.integers(0, len(kinds[0 if of_profile else 1])))], rng)
    path = folder / f"{number}.bin"
    path.write_bytes(made)
    try:
        if of_profile:
            through_a_profile(path, number % (2 * _MEASURED) == 0)
        else:
            read_picture(path)
    except RehearsalError as error:
        assert error.what and "\n" not in error.sentence(), "one clear sentence"
    path.unlink()


def _batch(first: int, count: int, seed: int, folder: str, told: multiprocessing.Queue) -> None:  # type: ignore[type-arg]
    place = Path(folder)
    kinds = profiles(), pictures(place)
    for number in range(first, first + count):
        begun = time.monotonic()
        told.put((number, "begun"))
        try:
            _case(number, seed, place, kinds)
        except Exception as error:
            told.put((number, f"{type(error).__name__}: {error}"))
        if time.monotonic() - begun > _MOST_SECONDS:
            told.put((number, f"took {time.monotonic() - begun:.0f} s"))


def run(cases: int, seed: int, seconds: float) -> list[str]:
    """Faults found, as lines; batches run in processes of their own, so that a crash is a finding too."""
    faults: list[str] = []
    end, done = time.monotonic() + seconds, 0
    with tempfile.TemporaryDirectory() as folder:
        for first in range(0, cases, _BATCH):
            if time.monotonic() > end:
                break
            told: multiprocessing.Queue = multiprocessing.Queue()  # type: ignore[type-arg]
            place = Path(folder) / str(first)
            place.mkdir()
            count = min(_BATCH, cases - first)
            process = multiprocessing.get_context("fork").Process(
                target=_batch, args=(first, count, seed, str(place), told)
            )
            process.start()
            process.join(_MOST_SECONDS * count)
            last = first
            while not told.empty():
                number, words = told.get()
                last = number
                if words != "begun":
                    faults.append(f"case {number}: {words}")
            if process.exitcode != 0:
                faults.append(f"case {last}: the process ended with {process.exitcode}")
                process.kill()
            done += count
    print(f"{done} cases of seed {seed}, {len(faults)} faults")
    return faults


def main() -> int:
    """Run and report; the exit status tells whether anything was found."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--cases", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=300.0)
    given = parser.parse_args()
    faults = run(given.cases, given.seed, given.seconds)
    print("\n".join(faults[:40]))
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
