"""Rendering intents side by side: each a live picture with the same rows of figures for this picture."""

from __future__ import annotations

import numpy as np

from rehearsal.core.proof.advice import CandidateFigures
from rehearsal.core.proof.chain import effective
from rehearsal.core.proof.judging import Judgement
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import share_words
from rehearsal.desk.boards.base import Board
from rehearsal.desk.boards.wall import CardFigures, Wall
from rehearsal.desk.parts.widgets import choice, show_choice
from rehearsal.desk.words import INTENT_KEYS

_LONG_SIDE = 420


class IntentsBoard(Board):
    """Three intents, or five for the curious; a click chooses."""

    title = "Rendering intents side by side"
    with_tray = True

    def build(self) -> None:
        """A wall, and how many intents it shows."""
        self._count = choice([("the three usual ones", 3), ("all five, for the curious", 5)])
        self._count.setAccessibleName("How many intents")
        self._count.activated.connect(lambda _i: self._set_count())
        self.head(self._count)
        self._wall = Wall("Rendering intents")
        self._wall.chosen.connect(self._choose)
        self._wall.looked.connect(self._choose)
        self.rows.addWidget(self._wall, 1)
        self._shown: list[Rendering] = []
        #: Figures of further intents, and the areas of the judgement they belong to.
        self._more: tuple[object, dict[Rendering, CandidateFigures]] = (None, {})
        self._fill(3)

    def _set_count(self) -> None:
        self._fill(self._count.currentData())
        self.open()

    def _fill(self, count: int) -> None:
        show_choice(self._count, count)
        chosen = INTENT_KEYS[:count]
        self._shown = [rendering for rendering, _title, _key in chosen]
        self._wall.set_cards([(title, key) for _r, title, key in chosen])

    def _choose(self, at: int) -> None:
        self.session.takes.render(self._shown[at])

    def open(self) -> None:
        """Ask for the pictures."""
        self.refresh()
        self.refresh_pictures()

    def refresh_pictures(self) -> None:
        """The take in all renderings shown, in the present paper view."""
        if not self.isVisible():
            return
        shown = list(self._shown)

        def answer(pictures: list[np.ndarray]) -> None:
            road = self.session.roads.road
            paper = None if road is None else np.round(road.paper_rgb * 255)
            if shown == self._shown:
                for card, rgb in zip(self._wall.cards, pictures, strict=True):
                    card.show_picture(rgb, paper)

        self.session.inquiries.ask_intents(shown, _LONG_SIDE, answer)

    def _ask_more(self, result: Judgement, missing: list[Rendering]) -> None:
        """Figures of the intents that the judgement leaves out."""

        def answer(found: list[CandidateFigures]) -> None:
            self._more = (result.labels, {f.rendering: f for f in found})
            self.refresh()

        self.session.inquiries.ask_candidates(missing, answer)

    def refresh(self) -> None:
        """Figures of the judgement, and the advice in words."""
        take, result, paper = self.session.now.take, self.session.judging.judgement, self.session.now.paper
        if take is None or paper is None:
            return
        mine = effective(take.rendering, paper)
        figures = {f.rendering: f for f in result.candidates} if result else {}
        if result is not None and self._more[0] is result.labels:
            figures |= self._more[1]
        missing = [r for r in self._shown if effective(r, paper) not in figures]
        if result is not None and missing and not self.session.jobs.is_running("candidates"):
            self._ask_more(result, missing)
        advised = result.advice.named if result else None
        for card, rendering in zip(self._wall.cards, self._shown, strict=True):
            real = effective(rendering, paper)
            card.setChecked(real == mine)
            card.show_figures(CardFigures(candidate_rows(figures.get(real)), "advised" if advised == real else ""))
        self.sentence.setText(advice_words(result))


def candidate_rows(figures: CandidateFigures | None) -> tuple[tuple[str, str], ...]:
    """The same rows for every intent."""
    if figures is None:
        return (("figures", "being measured…"),)
    strong = "–" if figures.strong is None else f"{figures.strong * 100:.0f} %"
    return (
        ("difference without the black", f"ΔE₀₀ {figures.fitted_change:.1f}"),
        ("folds kept in strong colours", strong),
        ("detail lost", share_words(figures.flat)),
        ("deepest", f"L* {figures.black_depth:.1f}"),
        ("dark steps that stay apart", f"{figures.shadow_separation} of 20"),
        ("overall lightness", f"L* {figures.lightness:.1f}"),
        ("overall contrast", f"{figures.contrast * 100:.0f} % of the picture's"),
    )


def advice_words(result: Judgement | None) -> str:
    """The first reasons of the advice, and where compensation makes no difference."""
    if result is None:
        return "Judging…"
    parts = [*result.advice.reasons[:2], *(c.words for c in result.compensation if not c.visible)]
    return " ".join(parts)
