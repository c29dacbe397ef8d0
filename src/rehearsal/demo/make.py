"""The demo workbook: a salt works and its dye house by the sea prepare a small exhibition (all invented)."""

from __future__ import annotations

import functools
import itertools
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from importlib import resources
from pathlib import Path
from typing import Any

import numpy as np

from rehearsal.core.icc import open_profile
from rehearsal.core.screen.check import check_patches, check_screen
from rehearsal.core.sheet.layout import crop_to
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.condition import USUAL
from rehearsal.core.values.destination import Destination, space_path
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.plain import to_plain
from rehearsal.core.values.recipe import LEARNT, Recipe, Step, by_hand
from rehearsal.core.values.sheet import Sheet
from rehearsal.core.work.pool import side_by_side
from rehearsal.demo.pictures import demo_pictures
from rehearsal.demo.screens import simulated_display
from rehearsal.devices.simulated.display import SimulatedColorimeter
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.store import Workbook, in_use
from rehearsal.workbook.values import (
    Habit,
    LogEntry,
    Master,
    PatchOff,
    PrintCondition,
    ScreenReading,
    ScreenRecord,
    Take,
)

#: What the pictures are called on the rack, in its order.
TITLES = (
    "Drying line", "Dye jars", "Salt pans, evening", "Boiling house", "Stoneware", "Earthenware", "Dyed cloths, close", "Salt banks",
)  # fmt: skip


_COTTON_STEPS = "Brush off dust; one sheet at a time.\nRear slot, coated side to you.\nLever to thick paper; push until it is taken."


def demo_folder() -> Path:
    """Folder of the shipped demo files."""
    return Path(str(resources.files("rehearsal") / "data" / "demo"))


def _conditions() -> list[PrintCondition]:
    skarn: dict[str, Any] = {
        "printer": "Skarn 24",
        "quality": "High",
        "resolution": "1200 dpi",
        "high_speed": "off",
        "sheets": ("A4", "A3", "A3+", "A2"),
        "told": USUAL,
    }
    return [
        PrintCondition(
            paper="White Dune", profile_path="SK24_WhiteDune_Hi.icc", made_by="maker", media_setting="Fine art, smooth",
            preset="dune quiet", panel_setting="Thick sheet", black_mode="matte", ink="matte black",
            feed="rear, single sheet", margins_mm=(30.0, 5.0, 30.0, 5.0), borderless=False,
            loading=_COTTON_STEPS, ink_set="Skarn pigment, ten inks", brightener="some", dry_hours=24.0,
            surface="matte cotton", texture="smooth", weight="300 g/m²",
            sheet_price=1.6, ink_price=0.55, ink_ml=14.0, stock=3,
            notes="Bright smooth cotton. Scratches easily until dry; hold it at the edges.", **skarn,
        ),
        PrintCondition(
            paper="White Dune", profile_path="SK24_WhiteDune_own.icc", media_setting="Fine art, smooth",
            preset="dune quiet", panel_setting="Thick sheet", black_mode="matte", ink="matte black", made_by="own",
            feed="rear, single sheet", margins_mm=(30.0, 5.0, 30.0, 5.0), borderless=False,
            loading=_COTTON_STEPS, ink_set="Skarn pigment, ten inks", brightener="some", dry_hours=24.0,
            surface="matte cotton", texture="smooth", weight="300 g/m²",
            notes="Chart printed and read here; dried a day.", **skarn,
        ),
        PrintCondition(
            paper="Sluice Gloss", profile_path="SK24_SluiceGloss_Hi.icc", made_by="maker",
            media_setting="Photo gloss, resin-coated",
            black_mode="photo", ink="photo black", feed="top", borderless=True, gloss_coat="automatic",
            loading="Top slot, coated side up.\nGuides snug, not tight.", brightener="full", dry_hours=2.0,
            surface="gloss, resin-coated", texture="none", weight="260 g/m²",
            notes="Cool white, full of brightener.", **skarn,
        ),
        PrintCondition(
            paper="Windmill Baryta", profile_path="SK24_WindmillBaryta_Hi.icc", made_by="maker", media_setting="Baryta",
            black_mode="photo", ink="photo black", feed="rear, single sheet", gloss_coat="full",
            margins_mm=(20.0, 5.0, 20.0, 5.0), brightener="some", ink_set="Skarn pigment, ten inks",
            loading="Flatten the curl first.\nRear slot, coated side up.\nPush until it is taken; do not hold it.",
            surface="baryta, semi-gloss", texture="fine", weight="315 g/m²", notes="Fibre base.", **skarn,
        ),
        PrintCondition(
            printer="Ostrel 17", paper="Old Quay", profile_path="OS17_OldQuay_Fine.icc", made_by="maker",
            resolution="1440 dpi",
            media_setting="Cotton, textured", quality="Fine", black_mode="matte", ink="matte black",
            feed="rear, single sheet", margins_mm=(25.0, 4.0, 25.0, 4.0), sheets=("A4", "A3", "A3+"),
            default_intent="perceptual", loading="The coated side is the smoother one: test with a damp fingertip.\n"
            "Rear slot, one sheet.\nLever to thick paper.", brightener="none", dry_hours=24.0,
            surface="matte cotton", texture="textured", weight="310 g/m²", sheet_price=2.1, ink_price=0.7, ink_ml=13.0,
            notes="Natural white without brightener.", told=USUAL,
        ),
        PrintCondition(
            paper="sRGB file for a lab", profile_path=space_path("sRGB"), made_by="standard", media_setting="",
            notes="Some labs ask for a plain sRGB file and convert themselves.",
        ),
    ]  # fmt: skip


def _keep_conditions(book: Workbook, folder: Path) -> dict[str, PrintCondition]:
    kept = {}
    for condition in _conditions():
        if not condition.space:
            path = folder / "profiles" / condition.profile_path
            condition = replace(condition, profile_path=str(path), profile_digest=open_profile(path).digest)  # noqa: PLW2901
        made = book.put(condition)
        kept[condition.paper if condition.made_by != "own" else f"{condition.paper} own"] = made
    return kept


def _take(master: Master, condition: PrintCondition, **fields: Any) -> Take:
    return Take(master=master.id, condition=condition.id, rendering=condition.default, **fields)


#: A season of prints: days ago, picture, paper, steps darker, cooler and flatter, verdict, words, and what went wrong at the printer.
#: All papers come out dark by about the same, since the screen was set too bright; from the tenth on the learnt step goes along.
_SEASON = (
    (86, "Stoneware", "Old Quay", 2.0, 0.0, 1.0, "usable", "a little dark, otherwise right", ""),
    (82, "Salt pans, evening", "White Dune", 2.0, 1.0, 0.0, "usable", "dark by a third of a stop, sky a touch cool", ""),
    (75, "Dye jars", "White Dune", 1.0, 1.0, 0.0, "usable", "close", ""),
    (74, "Earthenware", "Old Quay", 2.0, 1.0, 0.0, "again", "dark, the glaze dull", ""),
    (66, "Boiling house", "White Dune", 3.0, 0.0, 1.0, "again", "the stairs are gone", ""),
    (60, "Boiling house", "White Dune", 2.0, 0.0, 0.0, "usable", "darks opened, still dark", ""),
    (53, "Dyed cloths, close", "Old Quay", 1.0, 1.0, 0.0, "usable", "nearly", ""),
    (47, "Salt banks", "White Dune", 2.0, 1.0, 1.0, "again", "lines across the sky", "high-speed"),
    (45, "Salt banks", "White Dune", 2.0, 1.0, 0.0, "usable", "without lines", ""),
    (38, "Dye jars", "Old Quay", 0.0, 1.0, 0.0, "good", "the learnt step was right", ""),
    (31, "Salt pans, evening", "White Dune", 0.0, 0.0, 0.0, "good", "as the screen", ""),
    (26, "Stoneware", "Old Quay", 0.0, 1.0, 0.0, "good", "", ""),
    (19, "Earthenware", "Old Quay", -1.0, 0.0, 0.0, "given-up", "better small", ""),
    (12, "Drying line", "White Dune", 0.0, 1.0, 0.0, "usable", "close; shadows could be more open", ""),
)  # fmt: skip
_LEARNT_FROM, _LEARNT_STOPS = 38, 0.29
_COSTS = {"White Dune": 3.6, "Old Quay": 4.4}


def _log(book: Workbook, kept: dict[str, PrintCondition], masters: dict[str, Master]) -> None:
    for days, name, paper, darker, cooler, flatter, verdict, words, cause in _SEASON:
        if name not in masters:
            continue
        card = kept[paper]
        size = PrintSize(26.0, 39.0) if name == "Earthenware" else PrintSize(39.0, 26.0)
        learnt = Recipe().having(Step(LEARNT, Values.of(lightness=_LEARNT_STOPS))) if days <= _LEARNT_FROM else Recipe()
        take = _take(masters[name], card, frame=Frame(size=size), sheet=Sheet("A3+"), recipe=learnt)
        destination = Destination(card.profile_digest, card.profile_path)
        printed = datetime.combine(date.today() - timedelta(days=days + 1), time(16, 20))
        book.put(
            LogEntry(
                when=(date.today() - timedelta(days=days)).isoformat(), picture=name, condition=card.id,
                condition_name=card.name, light="office", lux=320.0, kelvin=4000.0, screen_white=90.0, darker=darker,
                cooler=cooler, flatter=flatter, verdict=verdict, words=words, file="", cause=cause, cost=_COSTS[paper],
                rendition=take.rendition(masters[name], destination), view=take.view, condition_card=card,
                printed=printed.isoformat(timespec="minutes"),
            )
        )  # fmt: skip


def _screen_record(folder: Path) -> dict[str, Any]:
    """The demo's screen with six checks of a simulated display, calibrated nine days ago."""
    today = date.today()
    profile = open_profile(folder / "profiles" / "desk-screen-wide.icc")
    display, patches, readings = simulated_display("desk-screen-wide.icc"), check_patches(), []
    # calibrated five weeks ago and again nine days ago: the light falls in between and comes back
    for days_ago, since in ((37, 0), (30, 7), (23, 14), (14, 23), (9, 0), (2, 7)):
        xyz = np.array([SimulatedColorimeter(display, since * 8.0, days_ago).read(rgb) for rgb in patches])
        found = check_screen(patches, xyz, profile, 90.0, "D50")
        readings.append(
            ScreenReading(
                when=(today - timedelta(days=days_ago)).isoformat(),
                luminance=round(found.luminance, 2),
                black=round(found.black, 3),
                temperature=round(found.temperature),
                white_gap=round(found.white_gap, 4),
                mean=round(found.mean, 2),
                worst=round(found.worst, 2),
                state=found.state,
                source="simulated",
                patches=PatchOff.each(found.rgb, found.delta),
            )
        )
    plain: dict[str, Any] = to_plain(
        ScreenRecord(
            profile_path=str(folder / "profiles" / "desk-screen-wide.icc"), source="demo", white=90.0, lux=320.0, kelvin=4000.0,
            calibrated=(today - timedelta(days=9)).isoformat(), light="office", aim_luminance=90.0,
            readings=tuple(readings), known=(("white", "told"), ("contrast", "told"), ("lux", "told")),
        )
    )  # fmt: skip
    return plain


def _places(path: Path) -> Iterator[Path]:
    """The path, then its name with numbers."""
    yield path
    yield from (path.with_name(f"{path.stem}-{n}{path.suffix}") for n in itertools.count(2))


def make_demo(path: Path) -> Workbook:
    """A fresh demo workbook at path; an older demo there is replaced, unless a window has it open: then beside it.

    Raises:
        PictureError, WorkbookError: its pictures, or it, cannot be written.
    """
    path = next(p for p in _places(path) if not in_use(p))
    for suffix in ("", "-wal", "-shm"):
        Path(f"{path}{suffix}").unlink(missing_ok=True)
    folder = demo_folder()
    book = Workbook(path)
    kept = _keep_conditions(book, folder)
    made = side_by_side([functools.partial(make_master, path) for path in demo_pictures()])
    masters = {name: book.put(replace(m, name=name)) for name, m in zip(TITLES, made, strict=True)}
    first = None
    for name, master in masters.items():
        paper = "Old Quay" if name in ("Earthenware", "Stoneware") else "White Dune"
        portrait = name == "Earthenware"
        size = PrintSize(26.0, 39.0) if portrait else PrintSize(39.0, 26.0)
        take = book.put(_take(master, kept[paper], sheet=Sheet("A3+"), frame=Frame(size=size)))
        first = first or take
    if "Drying line" in masters:
        frame = Frame(crop_to(25.4 / 20.32, 3, 2), PrintSize(25.4, 20.32))
        book.put(_take(masters["Drying line"], kept["Sluice Gloss"], frame=frame, recipe=by_hand(strength=4.0)))
    _log(book, kept, masters)
    book.put(Habit(name="White Dune: open the darks", condition=kept["White Dune"].id, values=Values.of(dark_half=8.0)))
    book.set_setting("screen", _screen_record(folder))
    if first is not None:
        book.set_setting("open take", first.id)
    return book
