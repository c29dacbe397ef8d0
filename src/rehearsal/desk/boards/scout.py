"""The paper scout: all papers of the shortlist rehearse this picture at once."""

from __future__ import annotations

from rehearsal.core.papers.surface import detail_words, family, good_for, rule_words
from rehearsal.core.proof.scout import CARES, PaperCost, best_ones, ranked, scout_sentence, white_words
from rehearsal.core.tuning.opened import OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import capital, share_words
from rehearsal.desk.boards.base import Board, show_choosing
from rehearsal.desk.boards.wall import CardFigures, Wall
from rehearsal.desk.parts.offer import Offer
from rehearsal.desk.parts.widgets import button, choice
from rehearsal.desk.words import rendering_words
from rehearsal.session.inquiries import ScoutNews

_LONG_SIDE = 300
MOST_PAPERS = 12
_LABELS = (
    "beyond, mean loss",
    "loses colour, depth",
    "strong parts beyond",
    "without the black",
    "grey cast",
    "black",
    "white",
    "folds and shading kept",
    "in strong colours",
    "how near",
)


def cost_rows(cost: PaperCost | None) -> tuple[tuple[str, str], ...]:
    """Rows of a paper's card."""
    if cost is None:
        return tuple((label, "…") for label in _LABELS)
    values = (
        f"{share_words(cost.lost.share)}, ΔE₀₀ {cost.lost.mean:.1f}",
        f"{share_words(cost.lost.colour)}, {share_words(cost.lost.depth)}", _or_dash(cost.strong_miss, "ΔE₀₀ {:.1f}"),
        f"ΔE₀₀ {cost.fitted_change:.1f}", f"{cost.neutrals:.1f}", f"L* {cost.black:.1f}",
        white_words(cost.white).replace(" white, ", ", "), _kept(cost.modelling), _kept(cost.strong),
        f"ΔE₀₀ {cost.nearness:.1f}",
    )  # fmt: skip
    return tuple(zip(_LABELS, values, strict=True))


def _kept(value: float | None) -> str:
    return "–" if value is None else f"{value * 100:.0f} %"


def _or_dash(value: float | None, form: str) -> str:
    return "–" if value is None else form.format(value)


class ScoutBoard(Board):
    """A wall of papers, sorted by what the user cares about; two can be picked for the pair or compared."""

    title = "This picture on all papers"
    follows = (*Board.follows, "looked")

    def build(self) -> None:
        """Wall, order, view, head to head."""
        self._care = choice([(care, care) for care in CARES])
        self._care.setAccessibleName("Sort the papers by")
        self._care.activated.connect(lambda _i: self._sort())
        self._view = choice([("whites and blacks as they are", "on-paper"), ("fitted to the screen", "fitted"),
                             ("in their light", "in-its-light")])  # fmt: skip
        self._view.setAccessibleName("Show the papers")
        self._view.activated.connect(lambda _i: self.open())
        self._pair = button(
            "Head to head",
            self._head_to_head,
            "Two papers into the pair: those picked (right click or Shift+Enter), else the first two",
        )
        self._choose_button = Offer("Enter on a card, or a double click, does the same")
        self.head(self._choose_button, self.label("sorted by"), self._care, self._view, self._pair)
        self._wall = Wall("Papers that are compared")
        self._wall.looked.connect(lambda at: self.session.now.look_at(self._conditions[at]))
        self._wall.chosen.connect(self._choose)
        self._wall.picked.connect(self.pick)
        self.rows.addWidget(self._wall, 1)
        self._conditions: list[PrintCondition] = []
        self.costs: list[PaperCost | None] = []
        #: Places of the picked cards, the older first.
        self._picks: list[int] = []

    @property
    def wall(self) -> Wall:
        """The cards."""
        return self._wall

    def _papers(self) -> list[tuple[PrintCondition, OpenRendition]]:
        """The shortlist as far as its profiles can be opened, each with the open rendition on it."""
        wanted = [c for c in self.session.shelf.conditions if c.shortlist and not c.space]
        papers = [(c, self.session.inquiries.on_paper(c)) for c in wanted]
        return [(c, opened) for c, opened in papers if opened is not None][:MOST_PAPERS]

    def subject(self) -> object:
        """The picture as it is tuned and cropped, the papers, the screen and the light."""
        papers = [(c, opened.rendition.look) for c, opened in self._papers()]
        return papers, self.session.screen.profile, self.session.screen.light

    def open(self) -> None:
        """Rehearse on every paper; pictures come first, figures follow."""
        papers = self._papers()
        conditions = [c for c, _opened in papers]
        if [c.id for c in conditions] != [c.id for c in self._conditions]:
            self._wall.set_cards([(c.name, "") for c in conditions])
            self.costs = [None] * len(conditions)
            self._picks.clear()
            self.set_room(self.room)
        self._conditions = conditions
        if self.session.now.opened is None:
            self.sentence.setText("Open a picture first.")
            return
        if not conditions:
            self.sentence.setText(
                "No paper is compared. Add profiles on the shelf, or tick “compared on all papers” in a paper's card."
            )
            return
        self.costs = [None] * len(conditions)
        self.sentence.setText("Rehearsing…")
        self.refresh()
        long_side = round(_LONG_SIDE * self.devicePixelRatioF())
        opened = [each for _c, each in papers]
        self.session.inquiries.ask_scout(opened, self._view.currentData(), long_side, self._on_news, self._sort)

    def _on_news(self, news: ScoutNews) -> None:
        if news.at >= len(self._wall.cards):
            return
        if news.picture is not None:
            self._wall.cards[news.at].show_picture(*news.picture)
        else:
            self.costs[news.at] = news.cost
            self._show(news.at)

    def _show(self, i: int) -> None:
        condition = self._conditions[i]
        mark = ", ".join(part for part in (condition.texture, condition.weight) if part not in ("", "none"))
        self._wall.cards[i].show_figures(CardFigures(cost_rows(self.costs[i]), mark, 2))
        cost = self.costs[i]
        causes = (
            ""
            if cost is None
            else "\ntoo dark {:.1f} %, too light {:.1f} %, too saturated {:.1f} %".format(*cost.lost.by_cause)
        )
        kind = family(condition.surface, condition.texture)
        holds = "; ".join(part for part in (detail_words(kind), good_for(kind)) if part)
        self._wall.cards[i].setToolTip(f"{rendering_words(condition.default)}{causes}\n{capital(holds)}".strip())

    def _sort(self) -> None:
        care = self._care.currentData()
        order = ranked(self.costs, care)
        self._wall.arrange(order)
        kinds = [family(c.surface, c.texture) for c in self._conditions]
        rule = rule_words(care, [kinds[i] for i in best_ones(self.costs, care)], kinds)
        self.sentence.setText(f"{scout_sentence([c.name for c in self._conditions], self.costs, care)} {rule}".strip())

    def _choose(self, at: int) -> None:
        self.session.takes.choose(self._conditions[at])

    def refresh(self) -> None:
        """Mark the take's paper."""
        current, looked = self.session.now.condition, self.session.now.looked
        show_choosing(self._choose_button, self.session)
        for i, card in enumerate(self._wall.cards):
            card.is_looked = looked is not None and i < len(self._conditions) and self._conditions[i].id == looked.id
            card.update()
            card.setChecked(current is not None and i < len(self._conditions) and self._conditions[i].id == current.id)
            self._show(i)

    def pick(self, at: int) -> None:
        """Pick a card for head to head, or take it back; the older of two gives way."""
        if at in self._picks:
            self._picks.remove(at)
        else:
            self._picks = [*self._picks[-1:], at]
        for i, card in enumerate(self._wall.cards):
            card.picked = i in self._picks
            card.update()

    def picked(self) -> list[PrintCondition]:
        """The picked papers, else the first two of the present order."""
        if len(self._picks) == 2:
            return [self._conditions[i] for i in self._picks]
        return [self._conditions[i] for i in ranked(self.costs, self._care.currentData())[:2]]

    def _head_to_head(self) -> None:
        two = self.picked()
        if len(two) == 2:
            self.closed.emit()
            self.session.head_to_head(two)

    def set_room(self, room) -> None:  # type: ignore[no-untyped-def]
        """Change the room tone."""
        super().set_room(room)
        self._wall.set_room(room)
