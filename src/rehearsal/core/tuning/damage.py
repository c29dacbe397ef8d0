"""What a tuning damages in the print. More flags from contrast and strength are normal and print well: they are none of this."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rehearsal.core.colour.lab import y_to_lightness
from rehearsal.core.picture.space import MasterSpace
from rehearsal.core.proof.beyond import LIMIT
from rehearsal.core.proof.lattice import DeltaLattice
from rehearsal.core.proof.modelling import MasterWindows
from rehearsal.core.tuning.pulling import ends
from rehearsal.core.tuning.summing import origin_words
from rehearsal.core.tuning.tone import luminance_curve
from rehearsal.core.values.adjustments import ADJUSTMENTS, Values
from rehearsal.core.values.pull import Pull
from rehearsal.core.values.recipe import Recipe, Step
from rehearsal.core.values.words import amount, hue_words, share_words, word

#: A tone this near the paper's white or black (L*) cannot be told from it; one this far away could.
_LOST, _SEEN = 0.5, 1.5
#: Shares of the picture, per cent, below which nothing is said.
_FEW_LOST, _FEW_BANDED = 0.5, 2.0
#: Modelling that falls by more is seen (a share of what is kept).
_FALL = 0.03
#: Neighbouring 8-bit codes further apart than this in L* show as bands in smooth places.
_BAND = 1.0
#: What a step has to move for it to be worth saying that another one takes it back.
_UNDONE = {"stop": 1 / 6, "mired": 5.0, "lightness": 2.0, "percent": 4.0, "": 4.0}
#: By so much more δ a pulled colour is pushed on beyond the paper.
_PUSHED = 0.5


@dataclass(frozen=True)
class Damage:
    """One thing that is damaged: its key (``words``, group ``damage``) and what the words are filled with."""

    key: str
    about: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """As a sentence."""
        return word("damage", self.key).format(*self.about)


def lost_tones(plain: np.ndarray, tuned: np.ndarray, black: float) -> list[Damage]:
    """Lights newly burnt and depths newly blocked on this paper.

    Args:
        plain, tuned: media-relative L* (m,) of the untuned print and of the tuned one, of the same pixels.
        black: of the deepest neutral this rendering prints.
    """
    burnt = float(((tuned >= 100 - _LOST) & (plain < 100 - _SEEN)).mean() * 100)
    blocked = float(((tuned <= black + _LOST) & (plain > black + _SEEN)).mean() * 100)
    found = (("burnt", burnt), ("blocked", blocked))
    return [Damage(key, (share_words(share),)) for key, share in found if share >= _FEW_LOST]


def fallen_modelling(master: np.ndarray, plain: np.ndarray, tuned: np.ndarray) -> list[Damage]:
    """Folds and shading that the tuning takes; images (h, w, 3) of Lab: the picture, its print untuned and tuned."""
    windows = MasterWindows(master)
    before, now = (windows.against(each).mean() for each in (plain, tuned))
    if before is None or now is None or before - now <= _FALL:
        return []
    return [Damage("modelling", (f"{before * 100:.0f}", f"{now * 100:.0f}"))]


def undoing(recipe: Recipe) -> list[Damage]:
    """Steps that take back what others do; those that act on the print alone stand for something else and are left out."""
    steps = [s for s in recipe.on_screen.steps if s.place is None and s.acts]
    found = []
    for name, each in ADJUSTMENTS.items():
        by = [(s.values[name] * s.strength, s) for s in steps if s.values[name]]
        more, less = max(by, key=_first, default=None), min(by, key=_first, default=None)
        if more is None or less is None or min(more[0], -less[0]) < _UNDONE[each.unit]:
            continue
        said = (amount(name, value) + " " + _who(step) for value, step in (more, less))
        found.append(Damage("undoing", (word("adjustment", name), *said)))
    return found


def _first(pair: tuple[float, Step]) -> float:
    return pair[0]


def _who(step: Step) -> str:
    return f"by “{step.name}”" if step.name else origin_words(step)


def pushed(pulled: Sequence[Pull], field: DeltaLattice) -> list[Damage]:
    """Colours that are pulled further beyond the paper than they were: more is asked than it can show."""
    acting = [p for p in pulled if p.acts]
    if not acting:
        return []
    before, after = (field.exact(np.array([ends(p)[side] for p in acting])) for side in (0, 1))
    return [
        Damage("pushed", (hue_words(p.name) if p.name else word("pull", "colour"), f"{b:.1f}"))
        for p, a, b in zip(acting, before, after, strict=True)
        if b > LIMIT and b > a + _PUSHED
    ]


def banding(values: Values, space: MasterSpace, tones: np.ndarray) -> list[Damage]:
    """Tones of an 8-bit picture that are stretched until neighbouring codes can be told apart.

    Args:
        tones: share of the picture (101,) at L* 0 to 100, on any scale.
    """
    codes = np.arange(256) * 257
    y = space.curves[min(1, space.channels - 1)][codes].astype(np.float64)
    curve = luminance_curve(values)
    tuned = np.interp(np.sqrt(np.clip(y, 0, 1)), np.linspace(0, 1, len(curve)), curve)
    plain_l, tuned_l = y_to_lightness(y), y_to_lightness(tuned)
    torn = (np.diff(tuned_l) > _BAND) & (np.diff(plain_l) <= _BAND)
    place = np.clip(np.searchsorted(plain_l, np.arange(101), side="right") - 1, 0, 254)
    share = float(tones[torn[place]].sum() / max(tones.sum(), 1e-12) * 100)
    return [Damage("banding", (share_words(share),))] if share >= _FEW_BANDED else []
