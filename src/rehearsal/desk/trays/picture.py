"""Station 2: what arrived, and what size it will be."""

from __future__ import annotations

from rehearsal.core.picture.reduce import viewing_distance, wanted_ppi
from rehearsal.core.sheet.layout import (
    COMMON_SIZES,
    Crop,
    crop_to,
    effective_ppi,
    fit_size,
    same_proportion,
)
from rehearsal.desk.parts import Form, button, choice, number, quiet, show_choice, show_number
from rehearsal.desk.trays.base import Tray


class PictureTray(Tray):
    """Facts of the file; print size, crop and resolution."""

    def build(self) -> None:
        """Columns: what arrived, size, crop, what it is good for."""
        facts = self.column("What arrived", 300)
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
        self._build_size()
        crop = self.column("Crop", 235)
        self._fit = choice([("crop to the print's proportions", "crop"), ("keep the whole picture inside", "inside")])
        self._fit.setAccessibleName("When proportions differ")
        self._fit.activated.connect(lambda _i: self._set_fit(self._fit.currentData()))
        crop.add(self._fit)
        crop.add(
            quiet(
                "Drag the frame or its corners at the left, or use the arrow keys (Ctrl: size). Everything after is judged inside it.",
                wrap=True,
            )
        )
        crop.pair(button("Turn the print", self._turn), button("Whole picture", self._whole))
        crop.end()
        good = self.column("Good for", 300)
        self._good = quiet(wrap=True)
        good.add(self._good)
        good.end()

    def _build_size(self) -> None:
        column = self.column("Print size", 250)
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

    def _good_for(self) -> str:
        take = self.model.take
        assert take is not None
        w, h = self._pixels()
        _x, _y, cw, ch = take.crop.pixels(w, h)
        if take.size is None:
            parts = [f"{cw / v * 2.54:.0f} × {ch / v * 2.54:.0f} cm at {v} ppi" for v in (360, 300, 240)]
            return "\n".join(["No size set yet. It would give", *parts])
        have = effective_ppi(cw, take.print_width_cm)
        distance = viewing_distance(take.print_width_cm, take.print_height_cm)
        want = wanted_ppi(distance)
        close = wanted_ppi(30)
        verdict = "more than the eye can use" if have >= want else "less than the eye can use"
        return (
            f"{have:.0f} ppi at this size. Seen from {distance:.0f} cm (one and a half diagonals) the eye can use "
            f"{want:.0f} ppi: {verdict}. With the nose at it, 30 cm, it would be {close:.0f} ppi.\n"
            f"The file will have {round(take.print_width_cm / 2.54 * take.ppi)} × "
            f"{round(take.print_height_cm / 2.54 * take.ppi)} pixels at {take.ppi:.0f} ppi."
        )
