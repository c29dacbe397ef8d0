"""Tables that depend on profiles alone, kept by digest between starts: the nodes of δ, and prints over the master's cube.

They are what a judgement of any picture on a paper begins with, about a third of its time. A kept table is the very one that
was made: a judgement with it gives the same figures. Whatever is wrong with a file of them, they are made anew.
"""

from __future__ import annotations

import io
import json
import os
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.icc import Profile
from rehearsal.core.icc.engine import version
from rehearsal.core.proof import printmap
from rehearsal.core.proof.lattice import LATTICE, delta_lattice
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.work.files import read_regular, write_beside

#: To be raised whenever anything changes that a kept number depends on.
TABLES_FORMAT = 1
#: So many papers are kept, the last ones used, and so many prints over a cube of each.
_PAPERS, _PRINTS = 16, 6
#: A file is written again when so many nodes have come to those it has, as a share of them.
_WORTH = 0.02
#: More nodes than a lattice has.
_NONE = 1 << 40


class KeptTables:
    """A folder of tables, one file for each paper or screen."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        #: What stands in the file: number of nodes, keys of prints.
        self._there: dict[str, tuple[int, set[str]]] = {}

    def _path(self, profile: Profile) -> Path:
        return self._folder / f"{profile.digest}.npz"

    def fetch(self, profile: Profile) -> None:
        """Take over what is kept of a profile, unless it is at hand: in the best case before anything is made of it."""
        if len(delta_lattice(profile).known()[0]) >= self._there.get(profile.digest, (_NONE, set()))[0]:
            return
        try:
            with np.load(io.BytesIO(read_regular(self._path(profile))), allow_pickle=False) as kept:
                self._adopt(profile, kept)
            os.utime(self._path(profile))
        except Exception:  # a harmed archive has many ways to fail
            return  # none, or none that can be used: the tables are made anew

    def _adopt(self, profile: Profile, kept: Any) -> None:
        about = json.loads(str(kept["about"]))
        if about["made"] != _made() or about["profile"] != profile.digest:
            return
        places, values = kept["places"], kept["values"]
        prints = {key: kept[f"print{i}"] for i, key in enumerate(about["prints"])}
        delta_lattice(profile).adopt(places, values)
        for key, table in prints.items():
            printmap.adopt(_from_text(key), table)
        self._there[profile.digest] = (len(places), set(prints))

    def keep(self, profile: Profile) -> None:
        """Write what has been made of a profile, when that is notably more than is kept."""
        places, values = delta_lattice(profile).known()
        prints = {_to_text(key): table for key, table in printmap.made_for(profile.digest)[-_PRINTS:]}
        nodes, keys = self._there.get(profile.digest, (0, set()))
        if len(places) <= nodes * (1 + _WORTH) and keys.issuperset(prints):
            return
        about = {"made": _made(), "profile": profile.digest, "prints": list(prints)}
        arrays = {f"print{i}": table for i, table in enumerate(prints.values())}
        arrays |= {"about": np.array(json.dumps(about)), "places": places, "values": values}
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            write_beside(self._path(profile), lambda name: np.savez(name, **arrays))  # type: ignore[arg-type]
            self._forget_old()
        except OSError:
            return  # no room, no folder: they are made anew next time
        self._there[profile.digest] = (len(places), set(prints))

    def _forget_old(self) -> None:
        files = sorted(self._folder.glob("*.npz"), key=lambda path: path.stat().st_mtime)
        for path in files[:-_PAPERS]:
            path.unlink(missing_ok=True)


def _made() -> list[Any]:
    """What made a table."""
    return [TABLES_FORMAT, version(), printmap.NODES, *LATTICE]


def _to_text(key: printmap.PrintKey) -> str:
    master, via, paper, rendering = key
    return json.dumps([master, via, paper, rendering.intent, rendering.compensate])


def _from_text(text: str) -> printmap.PrintKey:
    master, via, paper, intent, compensate = json.loads(text)
    return master, via, paper, Rendering(intent, compensate)
