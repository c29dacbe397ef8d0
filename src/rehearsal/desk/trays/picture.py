"""Station 2: what arrived, and what size it will be."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from rehearsal.core.picture.arrived import good_for
from rehearsal.core.picture.reduce import viewing_distance, wanted_ppi
from rehearsal.core.sheet.layout import (
    COMMON_SIZES,
    GUIDES,
    PROPORTIONS,
    Crop,
    crop_to,
    effective_ppi,
    fit_size,
    same_proportion,
)
from rehearsal.desk.parts import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray
from rehearsal.desk.words import share_words
from rehearsal.tasks.arrival import Arrival


class PictureTray(Tray):
    """Facts of the file; print size, crop and resolution."""

    guides_chosen = pyqtSignal(str)
    proportion_chosen = pyqtSignal(float)

    def build(self) -> None:
        """Columns: what arrived, its colours, size, crop, what it is good for."""
        facts = self.column("What arrived", 238)
        self._facts = quiet(wrap=True)
        facts.add(self._facts)
        self._assume = choice(
            [
                ("read as sRGB", "sRGB"),
                ("read as opRGB", "opRGB"),
                ("read as Display P3", "P3"),
                ("read as ROMM RGB", "ROMM"),
            ]
        )
        self._assume.setAccessibleName("Profile of the untagged picture")
        self._assume.activated.connect(lambda _i: self.model.assume(self._assume.currentData()))
        facts.add(self._assume)
        self._again = button("Judge the changed picture", self.model.accept_changed_master)
        facts.add(self._again)
        facts.end()
        found = self.column("Found in it", 258)
        self._found = quiet(wrap=True)
        found.add(self._found)
        found.end()
        self._build_size()
        self._build_crop()
        good = self.column("Good for", 236)
        self._good = quiet(wrap=True)
        good.add(self._good)
        good.end()

    def _build_crop(self) -> None:
        crop = self.column("Crop", 206)
        self._fit = choice([("crop to the print's size", "crop"), ("keep the whole picture", "inside")])
        self._fit.setAccessibleName("When proportions differ")
        self._fit.activated.connect(lambda _i: self._set_fit(self._fit.currentData()))
        crop.add(self._fit)
        self._proportion = choice(list(PROPORTIONS))
        self._proportion.setAccessibleName("Proportions of the crop")
        self._proportion.activated.connect(self._choose_proportion)
        crop.add(self._proportion)
        self._guides = choice([(f"guides: {name}", name) for name in GUIDES])
        self._guides.setAccessibleName("Guides on the crop")
        self._guides.activated.connect(lambda _i: self.guides_chosen.emit(self._guides.currentData()))
        crop.add(self._guides)
        crop.add(quiet("Drag the frame at the left, or use the arrow keys (Ctrl: size).", wrap=True))
        crop.pair(button("Turn", self._turn, name="Turn the print"), button("Whole picture", self._whole))
        crop.end()

    def _choose_proportion(self) -> None:
        """Cut to a proportion; a print size that does not fit it any more follows along its longer side."""
        take, wanted = self.model.take, float(self._proportion.currentData())
        self.proportion_chosen.emit(wanted)
        if take is None or self.model.loaded is None or wanted <= 0:
            return
        w, h = self._pixels()
        upright = take.crop.height * h > take.crop.width * w
        proportion = 1 / wanted if upright else wanted
        crop = crop_to(proportion, w, h)
        if take.size is None:
            self.model.change(crop=crop)
            return
        inside = fit_size(take.size, round(crop.width * w), round(crop.height * h))
        self.model.change(
            crop=crop, print_width_cm=round(inside.width_cm, 2), print_height_cm=round(inside.height_cm, 2)
        )

    def _show_arrival(self) -> None:
        self._found.setText(arrival_words(self.model.arrival))

    def _build_size(self) -> None:
        column = self.column("Print size", 206)
        form = Form()
        self._common = choice([("choose…", None), *((s.name, s) for s in COMMON_SIZES)])
        self._common.activated.connect(self._choose_common)
        form.row("Common sizes", self._common)
        self._unit = choice([("cm", 1.0), ("in", 2.54)])
        self._unit.activated.connect(lambda _i: self.refresh())
        self._width, self._height = number(0, 500, 1, ""), number(0, 500, 1, "")
        self._width.valueChanged.connect(lambda v: self._set_side("width", v))
        self._height.valueChanged.connect(lambda v: self._set_side("height", v))
        form.row("Width", self._width)
        form.row("Height", self._height)
        form.row("Unit", self._unit)
        self._ppi = choice([(f"{v} ppi", float(v)) for v in (180, 240, 300, 360, 600)])
        self._ppi.activated.connect(lambda _i: self.model.change(ppi=self._ppi.currentData()))
        form.row("Resolution", self._ppi)
        column.rows.addLayout(form)
        column.end()

    def _pixels(self) -> tuple[int, int]:
        assert self.model.loaded is not None
        return self.model.loaded.pyramid.size

    def _choose_common(self) -> None:
        size = self._common.currentData()
        if size is None or self.model.loaded is None or self.model.take is None:
            return
        w, h = self._pixels()
        take = self.model.take
        upright = take.crop.height * h > take.crop.width * w
        wide, high = (size.height_cm, size.width_cm) if upright else (size.width_cm, size.height_cm)
        self._set_size(wide, high)

    def _set_size(self, width_cm: float, height_cm: float) -> None:
        """Set the print size; the crop follows when proportions differ and cropping is wanted."""
        take = self.model.take
        if take is None or self.model.loaded is None or width_cm <= 0 or height_cm <= 0:
            return
        w, h = self._pixels()
        crop = take.crop
        if take.fit == "crop":
            if not same_proportion(crop.width * w, crop.height * h, width_cm, height_cm):
                crop = crop_to(width_cm / height_cm, w, h)
        else:
            from rehearsal.core.sheet.layout import PrintSize

            inside = fit_size(PrintSize(width_cm, height_cm), round(crop.width * w), round(crop.height * h))
            width_cm, height_cm = inside.width_cm, inside.height_cm
        self.model.change(print_width_cm=width_cm, print_height_cm=height_cm, crop=crop)

    def _set_side(self, side: str, value: float) -> None:
        take = self.model.take
        if take is None or self.model.loaded is None or value <= 0:
            return
        value *= self._unit.currentData()
        w, h = self._pixels()
        ratio = take.crop.width * w / (take.crop.height * h)
        width, height = take.print_width_cm, take.print_height_cm
        if side == "width":
            width, height = value, height if take.fit == "crop" and height > 0 else value / ratio
        else:
            width, height = width if take.fit == "crop" and width > 0 else value * ratio, value
        self._set_size(width, height)

    def _set_fit(self, fit: str) -> None:
        take = self.model.take
        if take is None:
            return
        self.model.change(fit=fit)
        if fit == "inside":
            self._whole()
        elif take.size is not None:
            self._set_size(take.print_width_cm, take.print_height_cm)

    def _turn(self) -> None:
        take = self.model.take
        if take is not None and take.size is not None:
            self._set_size(take.print_height_cm, take.print_width_cm)

    def _whole(self) -> None:
        """Print everything: the size takes the picture's proportions within its longer side."""
        take = self.model.take
        if take is None or self.model.loaded is None:
            return
        w, h = self._pixels()
        if take.size is None:
            self.model.change(crop=Crop())
            return
        inside = fit_size(take.size, w, h)
        self.model.change(crop=Crop(), print_width_cm=inside.width_cm, print_height_cm=inside.height_cm)

    def refresh(self) -> None:
        """Follow the model."""
        take, loaded = self.model.take, self.model.loaded
        self._assume.setVisible(
            loaded is not None and loaded.picture.info.assumed and loaded.picture.profile.space == "RGB"
        )
        self._again.setVisible(self.model.file_state == "changed")
        if take is None or loaded is None:
            self._facts.setText("No picture yet.")
            return
        info = loaded.picture.info
        tag = "taken for" if info.assumed else "embedded:"
        lines = [f"{info.width} × {info.height} pixels, {info.width * info.height / 1e6:.1f} megapixels",
                 f"{info.depth} bits per sample, {info.space}", f"profile {tag} {info.profile_name}"]  # fmt: skip
        lines += [c for c in info.cautions if "carries no profile" not in c]
        if info.assumed:
            lines.append("It carries no profile; say once what it is.")
        self._facts.setText("\n".join(lines))
        if self.model.master is not None and self.model.master.assumed:
            show_choice(self._assume, self.model.master.assumed)
        unit = self._unit.currentData()
        for field, value in ((self._width, take.print_width_cm), (self._height, take.print_height_cm)):
            field.setSuffix(" cm" if unit == 1.0 else " in")
            show_number(field, round(value / unit, 2))
        show_choice(self._ppi, take.ppi)
        show_choice(self._fit, take.fit)
        self._good.setText(self._good_for())
        arrival = self.model.arrival
        if arrival is None or arrival.crop != take.crop:
            self._found.setText("Looking…")
            if self.isVisible() and "arrival" not in self.model.jobs.running:
                self.model.ask_arrival()
        else:
            self._show_arrival()

    def _good_for(self) -> str:
        take = self.model.take
        assert take is not None
        w, h = self._pixels()
        _x, _y, cw, ch = take.crop.pixels(w, h)
        sizes = "\n".join(
            f"from {g.distance_cm:.0f} cm: {g.width_cm:.0f} × {g.height_cm:.0f} cm" for g in good_for(cw, ch)
        )
        most = f"With all the eye can use, seen\n{sizes}"
        if take.size is None:
            return f"No size set yet.\n{most}"
        have = effective_ppi(cw, take.print_width_cm)
        distance = viewing_distance(take.print_width_cm, take.print_height_cm)
        want = wanted_ppi(distance)
        verdict = "more than the eye can use" if have >= want else "less than the eye can use"
        return (
            f"{have:.0f} ppi at this size; from {distance:.0f} cm (1.5 diagonals) the eye can use {want:.0f}: {verdict}.\n"
            f"File: {round(take.print_width_cm / 2.54 * take.ppi)} × {round(take.print_height_cm / 2.54 * take.ppi)} pixels at "
            f"{take.ppi:.0f} ppi.\n{most}"
        )


def arrival_words(found: Arrival | None) -> str:
    """What was found in the picture, a line each."""
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
    wide = [f"{name} {share_words(found.beyond_spaces[name])}" for name in ("sRGB", "opRGB", "P3")]
    lines.append(f"Beyond the working spaces: {', '.join(wide)}.")
    if found.beyond_screen is not None:
        seen = "All its colours can be seen on this screen."
        lines.append(
            seen
            if found.beyond_screen < 0.05
            else f"{share_words(found.beyond_screen)} you have never seen on this screen."
        )
    over = found.overshoot
    if over is not None and found.sharpened:
        lines.append(
            f"Edges carry halos of {over * 100:.0f} % of their height: sharpened already. Go easy on sharpening again."
        )
    elif over is not None:
        lines.append("No halos at its edges: not sharpened for output.")
    return "\n".join(lines)
