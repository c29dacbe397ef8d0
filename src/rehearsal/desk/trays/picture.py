"""Station 2: what arrived, and what size it will be."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QRect, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QVBoxLayout, QWidget

from rehearsal.core.icc.standard import GREYS, SPACES
from rehearsal.core.picture.arrived import good_for
from rehearsal.core.picture.file import PictureInfo
from rehearsal.core.picture.reduce import NEAR_CM, sharp_from, viewing_distance, wanted_ppi
from rehearsal.core.sheet.framing import whole, with_common_size, with_fit, with_proportion, with_side, with_size
from rehearsal.core.sheet.layout import (
    COMMON_SIZES,
    PROPORTIONS,
    SHEETS,
    effective_ppi,
    enlarged_words,
    enlargement,
    sheet_words,
)
from rehearsal.core.sheet.onsheet import borders_mm, sheet_for, with_border
from rehearsal.core.tuning.opened import OpenPicture
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.words import capital, in_row, share_words
from rehearsal.desk import theme
from rehearsal.desk.parts.bars import Bar, Bars
from rehearsal.desk.parts.goodfor import GoodForFrames, distance_words
from rehearsal.desk.parts.images import rgb_image
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.sheetdrawing import SheetDrawing
from rehearsal.desk.parts.stillcrop import StillCrop
from rehearsal.desk.parts.widgets import Form, button, choice, quiet, scrolled, show_choice
from rehearsal.desk.trays.base import Tray
from rehearsal.tasks.arrival import Arrival
from rehearsal.workbook.values import Take

_BARS_TO, _LITTLE = 10.0, 240
#: Viewing distances of the nested frames, cm.
_DISTANCES = (60.0, 100.0, 200.0)


_STILL = (
    "Here the frame stays and the picture moves: drag it, or use the arrows; wheel, + and −: larger or smaller.\n"
    "At the left the picture stays and the frame moves: drag it, its bars or its corners. Long ticks: thirds; short ones: "
    "golden section."
)


class PictureTray(Tray):
    """Facts of the file; print size, crop and resolution."""

    follows = ("take", "picture", "arrival", "masters", "judgement", "littles")

    proportion_chosen = pyqtSignal(float)

    def build(self) -> None:
        """Columns: the print on its sheet, crop, what it is good for, what was found in it."""
        self._build_size()
        self._build_crop()
        good = self.column("Good for", 236)
        self.frames = GoodForFrames()
        good.rows.addWidget(self.frames, 1)
        self._good = quiet(wrap=True)
        good.add(self._good)
        found = self.column("Found in it", 236, 1, about=("assume", "accept-master"))
        self._assume = choice([])
        self._assume.setAccessibleName("Profile of the untagged picture")
        self._assume.activated.connect(lambda _i: self.session.takes.assume(self._assume.currentData()))
        found.add(self._assume)
        self._again = button("Judge the changed picture", self.session.now.accept_changed_master)
        found.add(self._again)
        self.bars = Bars(f"Found in it, bars to {_BARS_TO:.0f} % of the picture", _BARS_TO)
        found.add(self.bars)
        self._found = quiet(wrap=True)
        self._facts = quiet(wrap=True)
        told = QWidget()
        rows = QVBoxLayout(told)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.addWidget(self._found)
        rows.addWidget(self._facts)
        rows.addStretch(1)
        area = scrolled(told)
        area.setMinimumHeight(theme.px(40))
        found.add(area)

    def _build_crop(self) -> None:
        crop = self.column("Crop", 206)
        crop.beside_title(quiet("drag the picture"))
        self._fit = choice([("crop to the print's size", "crop"), ("keep the whole picture", "inside")])
        self._fit.setAccessibleName("When proportions differ")
        self._fit.activated.connect(lambda _i: self._set_fit(self._fit.currentData()))
        crop.add(self._fit)
        self._proportion = choice(list(PROPORTIONS))
        self._proportion.setAccessibleName("Proportions of the crop")
        self._proportion.activated.connect(self._choose_proportion)
        crop.add(self._proportion)
        self.still = StillCrop()
        self.still.setToolTip(_STILL)
        self.still.crop_set.connect(lambda made: self._reframe(lambda frame, _w, _h: replace(frame, crop=made)))
        self.still.moving.connect(self._preview_crop)
        crop.rows.addWidget(self.still, 1)
        crop.pair(button("Turn", self._turn, name="Turn the print"), button("Whole picture", self._whole))

    def _choose_proportion(self) -> None:
        """Cut to a proportion; a print size that does not fit it any more follows along its longer side."""
        wanted = float(self._proportion.currentData())
        self.proportion_chosen.emit(wanted)
        if wanted > 0:
            self._reframe(lambda frame, w, h: with_proportion(frame, wanted, w, h))

    def _reframe(self, made: Callable[[Frame, int, int], Frame]) -> None:
        """Change crop and size together, in one step."""
        take, picture = self.session.now.take, self.session.now.picture
        if take is not None and picture is not None:
            self.session.takes.change("frame", frame=made(take.frame, *picture.size))

    def _resize(self, made: Callable[[Frame, int, int], Frame]) -> None:
        """Another size, and with it the sheet that holds it, in one step."""
        take, picture = self.session.now.take, self.session.now.picture
        if take is not None and picture is not None:
            self._on_its_sheet(made(take.frame, *picture.size))

    def _show_arrival(self) -> None:
        arrival, judged = self.session.inquiries.arrival, self.session.judging.beyond_screen
        self._found.setText(arrival_words(arrival, judged))
        self.bars.show_bars(arrival_bars(arrival, judged))

    def _build_size(self) -> None:
        column = self.column("The print on its sheet", 424, about=("frame", "sheet"))
        column.beside_title(quiet("drag its edge"))
        body = self._size_body = QHBoxLayout()
        body.setSpacing(theme.px(12))
        self.drawing = SheetDrawing()
        self.drawing.moving.connect(self._preview_border)
        self.drawing.border_set.connect(self._set_border)
        body.addWidget(self.drawing, 1)
        form = Form()
        self._common = choice([("choose…", None), *((s.name, s) for s in COMMON_SIZES)])
        self._common.activated.connect(self._choose_common)
        form.row("Common sizes", self._common)
        self._sheet = choice([(sheet_words(name), name) for name in (*SHEETS, "")])
        self._sheet.activated.connect(lambda _i: self.session.takes.choose_sheet(self._sheet.currentData()))
        form.row("Sheet", self._sheet)
        self._unit = choice([("cm", 1.0), ("in", 2.54)])
        self._unit.activated.connect(lambda _i: self.refresh())
        self._width, self._height = (NumberField(0, 500, 1, "cm", asks=True) for _ in range(2))
        self._width.valueChanged.connect(lambda v: self._set_side("width", v))
        self._height.valueChanged.connect(lambda v: self._set_side("height", v))
        form.row("Width", self._width)
        form.row("Height", self._height)
        self._border = NumberField(0, 400, 0, "mm")
        self._border.valueChanged.connect(self._set_border)
        form.row("Border", self._border)
        form.row("Unit", self._unit)
        self._ppi = NumberField(36, 2400, 0, "ppi", 60)
        self._ppi.setToolTip("240, 300 and 360 are all in use; any can be typed")
        self._ppi.valueChanged.connect(lambda ppi: self.session.takes.change_hand_over(ppi=ppi))
        form.row("Resolution", self._ppi)
        body.addLayout(form)
        column.rows.addLayout(body, 1)

    def on_stand(self, upright: bool) -> None:
        """Beside the pictures the fields stand under the drawing."""
        self._size_body.setDirection(QBoxLayout.Direction.TopToBottom if upright else QBoxLayout.Direction.LeftToRight)

    def _on_its_sheet(self, frame: Frame) -> None:
        """Keep a frame, on the sheet at hand while that holds it, else on the smallest that does."""
        take = self.session.now.take
        if take is None:
            return
        name = take.sheet.name if frame.size is None else sheet_for(frame.size, take.sheet.name)
        self.session.takes.change("frame", frame=frame, sheet=replace(take.sheet, name=name))

    def _bordered(self, border: float) -> Frame | None:
        take, picture = self.session.now.take, self.session.now.picture
        return (
            None if take is None or picture is None else with_border(take.frame, border, take.sheet.name, *picture.size)
        )

    def _set_border(self, border: float) -> None:
        take, frame = self.session.now.take, self._bordered(border)
        if take is not None and frame is not None:
            self.session.takes.change("frame", frame=frame)

    def _preview_border(self, border: float) -> None:
        take, frame = self.session.now.take, self._bordered(border)
        if take is not None and frame is not None:
            self._show_on_sheet(frame, take.sheet.name)

    def _preview_crop(self, crop: Crop) -> None:
        take = self.session.now.take
        if take is not None:
            self._show_on_sheet(replace(take.frame, crop=crop), take.sheet.name)

    def _show_on_sheet(self, frame: Frame, sheet: str) -> None:
        self.drawing.show_print(frame.size, sheet, self._little(frame))

    def _whole_little(self) -> QImage:
        """The picture, small; nothing before it is there."""
        master = self.session.now.master
        rgb = None if master is None else self.session.inquiries.littles.get(master.digest)
        return QImage() if rgb is None else rgb_image(rgb)

    def _little(self, frame: Frame) -> QImage:
        """What a frame leaves of it."""
        image = self._whole_little()
        return image if image.isNull() else image.copy(QRect(*frame.crop.pixels(image.width(), image.height())))

    def _choose_common(self) -> None:
        option = self._common.currentData()
        if option is not None:
            self._resize(lambda frame, w, h: with_common_size(frame, option, w, h))

    def _set_side(self, side: str, value: float) -> None:
        if value > 0:
            cm = value * self._unit.currentData()
            self._resize(lambda frame, w, h: with_side(frame, side, cm, w, h))

    def _set_fit(self, fit: str) -> None:
        self._reframe(lambda frame, w, h: with_fit(frame, fit, w, h))

    def _turn(self) -> None:
        self._reframe(lambda frame, w, h: frame if frame.size is None else with_size(frame, frame.size.turned, w, h))

    def _whole(self) -> None:
        self._reframe(whole)

    def _fill_assume(self, picture: OpenPicture | None) -> None:
        """What an untagged picture can be read as; hidden for all others."""
        space = "" if picture is None or not picture.picture.info.assumed else picture.picture.profile.space
        kinds = {"RGB": SPACES, "Gray": GREYS}.get(space, {})
        self._assume.setVisible(bool(kinds))
        keys = [self._assume.itemData(i) for i in range(self._assume.count())]
        if kinds and keys != list(kinds):
            self._assume.clear()
            for key, title in kinds.items():
                self._assume.addItem(f"read as {_short(title)}", key)
        master = self.session.now.master
        if kinds and master is not None:
            show_choice(self._assume, master.assumed or next(iter(kinds)))

    def set_room(self, room: theme.Room) -> None:
        """Drawn parts follow the room."""
        for part in (self.drawing, self.bars, self.frames, self.still):
            part.room = room
            part.update()

    def refresh(self) -> None:
        """Follow the session."""
        now = self.session.now
        take, picture = now.take, now.picture
        self._fill_assume(picture)
        self._again.setVisible(now.file_state == "changed")
        if take is None or picture is None:
            self._facts.setText("No picture yet.")
            return
        self._facts.setText(_facts_words(picture.picture.info))
        unit, size = self._unit.currentData(), take.frame.size
        for field, value in (
            (self._width, size.width_cm if size else 0.0),
            (self._height, size.height_cm if size else 0.0),
        ):
            field.setSuffix(" cm" if unit == 1.0 else " in")
            field.show_value(round(value / unit, 2))
        self._ppi.show_value(take.hand_over.ppi)
        show_choice(self._sheet, take.sheet.name)
        self._border.setEnabled(size is not None)
        self._border.show_value(round(max(min(borders_mm(size, take.sheet.name)), 0.0)) if size else 0.0)
        self._show_on_sheet(take.frame, take.sheet.name)
        if self.session.now.master is not None:
            self.session.inquiries.ask_littles([self.session.now.master], _LITTLE, _LITTLE)
        show_choice(self._fit, take.frame.fit)
        self.still.show_crop(self._whole_little(), picture.size, take.frame.crop)
        self._good.setText(_good_for(take, *picture.size))
        _x, _y, cw, ch = take.frame.crop.pixels(*picture.size)
        self.frames.show_sizes(good_for(cw, ch, _DISTANCES), size, self._little(take.frame))
        arrival = self.session.inquiries.arrival
        if arrival is None or arrival.crop != take.frame.crop:
            self._found.setText("Looking…")
            self.bars.show_bars(())
            if self.isVisible():
                self.session.inquiries.ask_arrival()
        else:
            self._show_arrival()


def _facts_words(info: PictureInfo) -> str:
    tag = "taken for" if info.assumed else "embedded:"
    lines = [f"{info.width} × {info.height} pixels, {info.width * info.height / 1e6:.1f} megapixels",
             f"{info.depth} bits per sample, {info.space}", f"profile {tag} {info.profile_name}"]  # fmt: skip
    lines += info.cautions[1:] if info.assumed else info.cautions
    if info.assumed:
        why = (
            f"Its own profile cannot be used ({info.useless_profile})"
            if info.useless_profile
            else "It carries no profile"
        )
        lines.append(f"{why}; say once what it is." if info.space == "RGB" else f"{why}.")
    return "\n".join(lines)


def _good_for(take: Take, width: int, height: int) -> str:
    """From where this print has all the eye can use, by both schools, and how far its file is enlarged."""
    size, ppi = take.frame.size, take.hand_over.ppi
    if size is None:
        return "No size set yet. Each frame is as large as a print may be, seen from so far away."
    _x, _y, cw, _ch = take.frame.crop.pixels(width, height)
    have = effective_ppi(cw, size.width_cm)
    wide, high = size.pixels(ppi)
    larger = enlarged_words(enlargement(cw, size.width_cm, ppi))
    return (
        f"This print, {have:.0f} ppi: all the eye can use from {distance_words(sharp_from(have))}. {_schools(have, size)} "
        f"File {wide} × {high} pixels{f', {larger}' if larger else ''}."
    )


def _schools(have: float, size: PrintSize) -> str:
    """Enough or not, by both schools of viewing distance."""
    far = viewing_distance(size.width_cm, size.height_cm)
    seen = ((far, "1.5 diagonals"), (NEAR_CM, "as near as people step"))
    parts = [f"{name} ({cm:.0f} cm): {'enough' if have >= wanted_ppi(cm) else 'too few'}" for cm, name in seen]
    return f"{capital('; '.join(parts))}."


def arrival_bars(found: Arrival | None, judged: float | None) -> tuple[Bar, ...]:
    """What was found, as bars: per cent of the picture. ``judged`` is as in :func:`arrival_words`."""
    if found is None:
        return ()
    shares = [("does not fit into sRGB", found.beyond_spaces["sRGB"])]
    beyond = found.beyond_screen if judged is None else judged
    if beyond is not None:
        shares.append(("lies beyond this screen", beyond))
    if found.clipped is not None:
        shares.append(("lights or darks clipped", max(found.clipped.lights, found.clipped.darks)))
    return tuple(Bar(name, value, share_words(value)) for name, value in shares)


def _short(title: str) -> str:
    """A working space's name without its standard."""
    return title.split(" IEC ", maxsplit=1)[0].split(" ISO ", maxsplit=1)[0]


def _beyond_screen_words(sampled: float, judged: float | None) -> str:
    about, share = ("about ", sampled) if judged is None else ("", judged)
    if share == 0 and judged is not None:
        return "No colour beyond this screen was found in it."
    if share < 0.1:
        return "Hardly any of its colours lie beyond this screen."
    text = f"{about}{share_words(share)} lies beyond this screen: it has never been seen here."
    return capital(text)


def arrival_words(found: Arrival | None, judged: float | None = None) -> str:
    """What was found in the picture, a line each.

    Args:
        judged: per cent beyond this screen as the judgement has it, which then is the figure; else the sample's, as such.
    """
    if found is None:
        return "Looking…"
    lines = []
    clip = found.clipped
    if clip is not None:
        if clip.lights < 0.05 and clip.darks < 0.05:
            lines.append("Neither lights nor darks are clipped.")
        else:
            lines.append(f"Clipped lights {share_words(clip.lights)} (pure white {share_words(clip.white)}), darks "
                         f"{share_words(clip.darks)} (pure black {share_words(clip.black)}).")  # fmt: skip
    first, *wide = [f"{share_words(found.beyond_spaces[name])} {{}}into {name}" for name in ("sRGB", "opRGB", "P3")]
    lines.append(f"{first.format('of it does not fit ')}, {in_row([w.format('') for w in wide])}.")
    if found.beyond_screen is not None:
        lines.append(_beyond_screen_words(found.beyond_screen, judged))
    over = found.overshoot
    if found.sharpened and over is not None:
        lines.append(
            f"Edges carry halos of {over * 100:.0f} % of their height: sharpened already. Go easy on sharpening again."
        )
    elif found.sharpened is None:
        lines.append("Whether it is sharpened already its edges cannot tell.")
    else:
        lines.append("No halos at its edges: not sharpened for output.")
    return "\n".join(lines)
