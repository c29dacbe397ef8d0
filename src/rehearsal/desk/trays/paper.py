"""Station 3: the print condition."""

from __future__ import annotations

import functools
from typing import Any

from PyQt6.QtWidgets import QFileDialog, QPushButton, QWidget

from rehearsal.core.papers.names import medium_words
from rehearsal.core.papers.surface import detail_words, family, good_for
from rehearsal.core.sheet.layout import sheet_words
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.words import capital
from rehearsal.desk import theme
from rehearsal.desk.parts.bars import Bars
from rehearsal.desk.parts.flow import FlowLayout
from rehearsal.desk.parts.greys import GreysStrip
from rehearsal.desk.parts.offer import Offer
from rehearsal.desk.parts.paperdrawing import PaperDrawing
from rehearsal.desk.parts.papertile import BAR_END, PaperShown, PaperTile, ShelfLight
from rehearsal.desk.parts.profilesays import room_bars, room_of, said_rows
from rehearsal.desk.parts.toldlist import Told, ToldList
from rehearsal.desk.parts.widgets import button, quiet, scrolled, show_page
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.conditions import Facts, NoFacts

#: A shelf of fewer papers says how more come onto it.
_FEW = 3
_NOTHING = (0.0, 0.0, 0.0, 0.0)


class PaperTray(Tray):
    """The shelf of papers as small sheets, the one that is shown large, its card, its greys."""

    follows = ("take", "conditions", "facts", "looked", "lost", "judgement", "picture")

    def build(self) -> None:
        """Shelf at the left, the paper, its card, its greys."""
        self._boards: dict[str, QPushButton] = {}
        self._build_shelf()
        paper = self.column("This paper", 252)
        self._sheet_words = quiet()
        paper.beside_title(self._sheet_words)
        self.drawing = PaperDrawing()
        paper.add(self.drawing)
        self._detail = quiet(wrap=True)
        paper.add(self._detail)
        paper.pair(self._board("reach", "The reach", "C"), self._board("two", "Two profiles", "X"))
        told = self.column("Told and read", 202)
        self.card = ToldList()
        listed = scrolled(self.card)
        listed.setMinimumHeight(theme.px(56))
        told.add(listed)
        self._more = button("Figures…", self._show_figures, "All measured figures", "All figures of this paper")
        told.pair(self._board("card", "Its card", "F7"), self._more)
        self._build_greys()
        self._shown: list[PrintCondition] = []

    def _build_shelf(self) -> None:
        shelf = self.column(
            "Papers on the shelf", 452, 1, about=("condition", "add-condition", "remove-condition", "change-condition")
        )
        shelf.drawn_height = 204
        self._few = quiet("Drop the profiles of your papers on the window, or the archives they came in.", wrap=True)
        self._measure = quiet()
        shelf.beside_title(self._measure)
        holder = QWidget()
        self._flow = FlowLayout(5, 6)
        holder.setLayout(self._flow)
        area = scrolled(holder)
        area.setAccessibleName("Papers on the shelf")
        area.setMinimumHeight(theme.px(56))
        shelf.add(area)
        self._few.setFixedWidth(theme.px(200))
        self._area, self.tiles = area, list[PaperTile]()
        self._seen_tile: PaperTile | None = None
        self._choose = Offer("Enter on a paper does the same")
        over_tip = "The tuning and the print file were made for the chosen paper"
        self._over = button("This take over to it", self._take_over, over_tip)
        self._back = button("Back", lambda: self.session.now.look_at(None), "Back to the chosen paper: Esc")
        self._add_button = button("Add profiles…", self.add_profiles)
        scout, cards = self._board("scout", "On all papers", "O"), self._board("shelf", "Shelf of cards", "Q")
        shelf.pair(self._choose, self._over, self._back, self._add_button, scout, cards)

    def _build_greys(self) -> None:
        column = self.column("Its greys", 190)
        column.beside_title(quiet("darks to lights"))
        self.greys = GreysStrip()
        column.add(self.greys)
        self.said = ToldList("What its profile says", legend=False)
        area = scrolled(self.said)
        area.setMinimumHeight(theme.px(40))
        column.add(area)
        self.room_bar = Bars("Room for colour", 100.0)
        column.add(self.room_bar)

    def _board(self, name: str, text: str, key: str) -> QPushButton:
        item = button(f"{text}   {key}", functools.partial(self.board_wanted.emit, name), name=f"Board: {text}")
        item.setCheckable(True)
        self._boards[name] = item
        return item

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures there is no room for what the tiles are measured by."""
        self._measure.setVisible(not upright)

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        self.room = room
        part: Any
        for part in (self.greys, self.card, self.said, self.drawing, self.room_bar, *self.tiles):
            part.room = room
            part.update()
        self._show_papers()

    def show_board(self, name: str) -> None:
        """Mark the board that is shown."""
        for each, item in self._boards.items():
            item.setChecked(each == name)

    def _take_over(self) -> None:
        looked = self.session.now.looked
        if looked is not None:
            self.session.takes.choose_condition(looked)

    def add_profiles(self) -> None:
        """Ask for profiles, which become print conditions."""
        names, _ = QFileDialog.getOpenFileNames(
            self, "Add printer profiles", "/usr/share/color/icc", "Profiles and archives of them (*.icc *.icm *.zip)"
        )
        if names:
            self.session.incoming.open_files(names)

    # ---- following

    def opened(self) -> None:
        """Count what each paper costs while the shelf is seen."""
        self.refresh()

    def refresh(self) -> None:
        """Follow the session."""
        self._shown = self.session.shelf.conditions
        if self.session.judging.is_current:  # the judgement first: it is waited for
            self.session.costs.ask_lost()
        self.session.costs.ask_printed()
        master = self.session.now.master
        self._measure.setText("" if master is None else f"{master.name} as the measure: shorter loses less")
        self._fit_tiles()
        self._few.setVisible(len(self._shown) < _FEW)
        self._show_papers()
        current = self.session.now.card
        if current is not None:
            self.card.show_rows(told_rows(current))
            self._show_greys(current)
        self._show_choosing(self.session.now.looked)

    def _fit_tiles(self) -> None:
        """A tile for each paper; those there are stay, and so does the focus."""
        while len(self.tiles) > len(self._shown):
            gone = self.tiles.pop()
            self._flow.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        while len(self.tiles) < len(self._shown):
            made, at = PaperTile(), len(self.tiles)
            made.room = self.room
            made.looked.connect(functools.partial(self._on_looked, at))
            made.chosen.connect(functools.partial(self._on_chosen, at))
            self.tiles.append(made)
            self._flow.removeWidget(self._few)  # it comes after the papers
            self._flow.addWidget(made)
            self._flow.addWidget(self._few)
            made.show()

    def _on_looked(self, at: int) -> None:
        if at < len(self._shown):
            self.session.now.look_at(self._shown[at])

    def _on_chosen(self, at: int) -> None:
        if at < len(self._shown):
            self.session.takes.choose(self._shown[at])

    def _show_papers(self) -> None:
        """The tiles and the sheet, in light of their own."""
        facts, costs = self.session.shelf.facts, self.session.costs
        light = ShelfLight([f.white for f in facts.values() if isinstance(f, Facts) and f.is_paper], self.room.lightest)
        losses = {c.id: costs.lost_on(c) for c in self._shown}
        end = max([BAR_END, *(lost.share for lost in losses.values() if lost is not None)])
        chosen, looked = self.session.now.condition, self.session.now.looked
        shown_tile: PaperTile | None = None
        for tile, condition in zip(self.tiles, self._shown, strict=False):
            lost = losses[condition.id]
            shown = paper_shown(condition, facts.get(condition.id), None if lost is None else lost.share)
            tile.show_paper(shown, light, end, condition.name)
            tile.setChecked(chosen is not None and chosen.id == condition.id)
            tile.is_looked = looked is not None and looked.id == condition.id
            if (tile.isChecked() and looked is None) or tile.is_looked:
                shown_tile = tile
        if shown_tile is not None and shown_tile is not self._seen_tile:
            self._seen_tile = shown_tile
            self._area.ensureWidgetVisible(shown_tile, 0, 0)
        self._show_sheet(light)

    def _show_sheet(self, light: ShelfLight) -> None:
        """The paper whose card is shown, large, with the print on it."""
        current, take = self.session.now.card, self.session.now.take
        if current is None or take is None:
            return
        facts = self.session.shelf.facts_of(current.id)
        is_paper = facts is not None and facts.is_paper
        white = light.colour(facts.white) if facts is not None and is_paper else self.room.colour("text")
        margins = _NOTHING if current.space or take.sheet.borderless else current.margins_mm
        self.drawing.show_sheet(take.sheet.name, take.frame.size, margins, white)
        printed = self.session.costs.printed
        self.drawing.show_picture(None if printed is None else light.pixels(printed))
        fed = f", {current.feed}" if current.feed else ""
        self._sheet_words.setText(f"{sheet_words(take.sheet.name)}{fed}")
        kind = "" if current.space else family(current.surface, current.texture)
        words = [w for w in ("hatched: no ink" if any(margins) else "", detail_words(kind)) if w]
        self._detail.setText(". ".join(capital(w) for w in words) + ("." if words else ""))
        self._detail.setToolTip(capital(good_for(kind)))

    def _show_greys(self, condition: PrintCondition) -> None:
        """The printed greys, and what the profile says."""
        facts = self.session.shelf.facts_of(condition.id)
        is_paper = facts is not None and facts.is_paper and not condition.space
        self.greys.show_greys(facts.greys if facts is not None and is_paper else ())
        self.greys.setVisible(is_paper)
        self._more.setEnabled(is_paper)
        self.said.show_rows(said_rows(self.session.shelf, condition))
        room = room_of(self.session.shelf, condition)
        self.room_bar.show_bars(room_bars(room))
        self.room_bar.setToolTip("" if room is None else capital(room.words))

    def _show_choosing(self, looked: PrintCondition | None) -> None:
        """Ways from looking to choosing, while there is something to choose."""
        worked, has_take = self.session.takes.is_worked, self.session.now.take is not None
        for each in (self._choose, self._over, self._back):
            each.setVisible(looked is not None and has_take)
        if worked:
            self._choose.offer("New take on it", self.session.takes.new_on_looked)
        else:
            self._choose.offer("Choose this paper", self.session.takes.take_over_to_looked)
        self._add_button.setVisible(looked is None or not has_take)
        self._over.setVisible(looked is not None and worked)

    def _show_figures(self) -> None:
        """All raw figures of the paper that is shown."""
        current = self.session.now.card
        facts = None if current is None else self.session.shelf.facts_of(current.id)
        if current is not None and facts is not None:
            show_page(self, f"Figures of {current.paper}", figures_html(facts), "Figures of this paper", 520, 380)


def paper_shown(condition: PrintCondition, facts: Facts | NoFacts | None, lost: float | None) -> PaperShown:
    """What a tile tells of a condition."""
    name = condition.paper
    kind = "own" if condition.made_by == "own" else condition.surface.replace(",", " ").split(" ")[0]
    under = ", ".join(part for part in (condition.printer, kind) if part)
    if isinstance(facts, Facts) and facts.is_paper:
        return PaperShown(name, under, facts.white, facts.black, f"contrast {facts.contrast:.0f} : 1", lost)
    words = "measuring…" if facts is None else "profile missing" if isinstance(facts, NoFacts) else "no paper"
    return PaperShown(name, under or "a file for a lab", None, None, words, lost)


def figures_html(facts: Facts) -> str:
    """The measured figures of a paper as a table."""
    rows = (
        ("white, absolute", "L* {:.1f}, a* {:+.1f}, b* {:+.1f}".format(*facts.white)),
        ("black, absolute", "L* {:.1f}, a* {:+.1f}, b* {:+.1f}".format(*facts.black)),
        ("contrast", f"{facts.contrast:.0f} : 1"),
        ("density of the black, Dmax", f"{facts.dmax:.2f}"),
        ("volume of the gamut", f"{facts.volume / 1000:.0f} 000 Lab³"),
        ("table noise, median", f"ΔE₀₀ {facts.noise:.2f}"),
        ("printed greys, largest chroma", f"{facts.drift_chroma:.1f} at L* {facts.drift_lightness:.0f}"),
        ("intents with a table", ", ".join(facts.intents)),
    )
    return "<table cellspacing='6'>" + "".join(f"<tr><td>{a}</td><td>{b}</td></tr>" for a, b in rows) + "</table>"


def told_rows(c: PrintCondition) -> list[Told]:
    """A condition's card: what was told, what was only read from a name, what nobody said."""
    asked = (
        ("media setting", "media_setting"),
        ("quality", "quality"),
        ("resolution", "resolution"),
        ("feed", "feed"),
    )
    own = c.is_ours
    rows = [Told(label, str(getattr(c, name)), _state(c, name)) for label, name in asked] if own else []
    if own:
        if c.unread and not c.media_setting:
            rows[0] = Told("media setting", medium_words(c.unread), "empty")
        if not c.printer:
            rows.insert(0, Told("printer", "", "empty"))
        rows.append(Told("black ink", c.ink or c.black_mode, _state(c, "ink")))
        rows.append(
            Told(
                "margins",
                _usual(c, "margins_mm", "{:.0f}, {:.0f}, {:.0f}, {:.0f} mm".format(*c.margins_mm)),
                _state(c, "margins_mm"),
            )
        )
        rows.append(
            Told("borderless", _usual(c, "borderless", "allowed" if c.borderless else "no"), _state(c, "borderless"))
        )
    told = (("preset", c.preset), ("panel", c.panel_setting), ("gloss coat", c.gloss_coat), ("ink set", c.ink_set),
            ("space", c.lab_space), ("price", c.lab_price), ("days", c.lab_days), ("notes", c.notes))  # fmt: skip
    dry = f"{c.dry_hours:g} hours" if c.dry_hours else ""
    if own:
        rows += [Told("drying", dry, _state(c, "dry_hours")), Told("brightener", c.brightener, _state(c, "brightener"))]
    rows.append(Told("intent", c.default_intent + (", as the lab prescribes" if c.prescribed else ", by habit")))
    rows += [Told(label, value) for label, value in told if value]
    if c.unread and not own:
        rows.append(Told("in its name", f"“{c.unread}” is not understood", "read"))
    return rows


def _state(c: PrintCondition, field: str) -> str:
    state = c.state(field)
    return "empty" if state == "usual" else state


def _usual(c: PrintCondition, field: str, words: str) -> str:
    """What nobody has told, as such."""
    return f"usual: {words}" if c.state(field) == "usual" else words
