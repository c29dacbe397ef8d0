"""From older formats of the workbook to the present one, on plain data.

Each step takes everything a workbook of one format holds, as its JSON has it (tables of rows, settings by name), and returns
the next format's. Whoever keeps something new raises the format by one and adds a step here, with a workbook made by the code
before it among the tests.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rehearsal.core.errors import WorkbookError

#: The present format.
FORMAT = 7
Data = dict[str, Any]


def migrated(data: Data) -> Data:
    """Plain data of an older format in the present one.

    Raises:
        WorkbookError: it was made by a newer program.
    """
    made = dict(data)
    number = int(made.get("format", 0))
    if number > FORMAT:
        raise WorkbookError("this file was made by a newer Rehearsal", "", "use the newer program")
    while number < FORMAT:
        made = _STEPS[number](made)
        number += 1
        made["format"] = number
    return made


# ---- from 2 to 3: takes in parts, recipes of steps with origins, keys instead of English


def _to_3(data: Data) -> Data:
    made = {**data, "settings": dict(data.get("settings", {}))}
    masters = {m["id"]: m for m in data.get("masters", [])}
    conditions = {c["id"]: c for c in data.get("conditions", [])}
    made["takes"] = [_take_3(t, masters, conditions) for t in data.get("takes", [])]
    made["log"] = [_log_3(e, masters) for e in data.get("log", [])]
    made["habits"] = [
        {**_without(h, "tuning"), "values": _values_3(h.get("tuning") or {})} for h in data.get("habits", [])
    ]
    made["accepted"] = [
        {**a, "hue": _hue_3(a.get("hue", "")), "why": _REASONS.get(a.get("why", ""), a.get("why", ""))}
        for a in data.get("accepted", [])
    ]
    settings = made["settings"]
    # which takes were tested was known, not what was on the sheets
    tested = [int(name.split()[-1]) for name in settings.pop("tests", None) or []]
    made["test_sheets"] = [{"id": i, "take": take} for i, take in enumerate(dict.fromkeys(tested), start=1)]
    for name, value in settings.items():
        if name == "screen" or (name.startswith("screen ") and isinstance(value, dict)):
            settings[name] = _screen_3(value)
    if isinstance(settings.get("station"), int):
        settings["station"] = _STATIONS[settings["station"]].lower()
    for name in [n for n in settings if n.startswith("paper facts ")]:
        del settings[name]  # they held sentences; they are measured anew
    return made


_STATIONS = ("Screen", "Picture", "Paper", "Judge", "Tune", "Test", "Sheet", "Log")
_VERDICTS = {"good, sign it": "good", "print again": "again", "given up": "given-up"}
_LIGHTS = {
    "living room, evening": "living-room", "hall or office": "office", "gallery spot": "gallery-spot",
    "desk lamp for prints": "desk-lamp", "by the window, overcast": "window", "viewing booth, ISO 3664 P2": "booth",
    "critical viewing, ISO 3664 P1": "booth-critical",
}  # fmt: skip
_REASONS = {
    "night may be black": "night", "velvet may be dark": "velvet", "no detail to lose there": "no-detail",
    "too small to matter": "too-small", "nobody knows the real colour": "nobody-knows",
}  # fmt: skip
_SOURCES = {
    "chosen file": "chosen", "the desktop's colour service": "colour-service", "the X11 root window": "x11",
    "simulated colorimeter": "simulated", "typed in": "typed",
}  # fmt: skip


def _without(row: Data, *names: str) -> Data:
    return {k: v for k, v in row.items() if k not in names}


def _hue_3(name: str) -> str:
    for shade in ("near-black ", "dark ", "pale "):
        if name.startswith(shade):
            return f"{shade.strip()}.{name[len(shade) :].replace(' ', '-')}"
    return name.replace(" ", "-")


def _values_3(tuning: Data) -> dict[str, float]:
    """Lightness was counted in sixths of a stop."""
    made = {name: float(value) for name, value in tuning.items() if value}
    if "lightness" in made:
        made["lightness"] = round(made["lightness"] / 6, 6)
    return made


def _recipe_3(tuning: Data, learnt: Data) -> Data:
    """The learnt part of the sum becomes a step of its own, the rest was done by hand."""
    by_hand = {name: float(value) - float(learnt.get(name, 0.0)) for name, value in tuning.items()}
    steps = []
    for origin, part in (("hand", by_hand), ("learnt", learnt)):
        values = _values_3(part)
        if values:
            steps.append({"name": "", "origin": origin, "on": True, "strength": 1.0, "values": values, "place": None})
    return {"maths": 1, "steps": steps}


def _format_3(take: Data) -> str:
    if str(take.get("file", "")).lower().endswith((".jpg", ".jpeg")):
        return "jpeg"
    return "tiff8" if take.get("depth", 16) == 8 else "tiff16"


def _parts_3(take: Data) -> Data:
    """The parts of a take that its rendition shares."""
    size = None
    if take.get("print_width_cm", 0) > 0 and take.get("print_height_cm", 0) > 0:
        size = {"width_cm": take["print_width_cm"], "height_cm": take["print_height_cm"]}
    crop = take.get("crop") or {"x": 0.0, "y": 0.0, "width": 1.0, "height": 1.0}
    return {
        "frame": {"crop": crop, "size": size, "fit": take.get("fit", "crop")},
        "recipe": _recipe_3(take.get("tuning") or {}, take.get("learnt") or {}),
        "rendering": {"intent": take.get("intent", "relative"), "compensate": take.get("compensate", True)},
        "sheet": {"name": take.get("sheet", "A4"), "borderless": take.get("borderless", False)},
        "hand_over": {
            "route": take.get("route", "printer"), "space": take.get("space", "opRGB"), "format": _format_3(take),
            "ppi": take.get("ppi", 300.0), "converter": take.get("converter", ""),
            "program_intent": take.get("program_intent", ""), "media": take.get("driver_media", ""),
            "feed": take.get("driver_feed", ""), "scale_percent": take.get("scale_percent", 100.0),
        },
    }  # fmt: skip


def _rendition_3(take: Data, master: Data, condition: Data) -> Data:
    path = condition.get("profile_path", "")
    return {
        **_parts_3(take), "master": master.get("digest", ""), "assumed": master.get("assumed", ""),
        "destination": {"digest": condition.get("profile_digest", ""), "path": path},
    }  # fmt: skip


def _take_3(take: Data, masters: dict[int, Data], conditions: dict[int, Data]) -> Data:
    kept = ("id", "master", "condition", "name", "notes", "view")
    made: Data = {name: take[name] for name in kept if name in take}
    made |= _parts_3(take)
    made["marks"] = {"pins": take.get("pins") or [], "line": take.get("line") or []}
    made["not_wanted"] = [s.lower() for s in take.get("not_wanted") or []]
    file = take.get("file", "")
    rendition = _rendition_3(take, masters.get(take.get("master", 0), {}), conditions.get(take.get("condition", 0), {}))
    made["written"] = {"file": file, "rendition": rendition} if file else None
    return made


def _log_3(entry: Data, masters: dict[int, Data]) -> Data:
    take, card = entry.get("take"), entry.get("condition_card")
    made = _without(entry, "take")
    made["light"] = _LIGHTS.get(entry.get("light", ""), entry.get("light", ""))
    made["verdict"] = _VERDICTS.get(entry.get("verdict", ""), entry.get("verdict", ""))
    made["view"] = (take or {}).get("view", "")
    made["rendition"] = None if not take else _rendition_3(take, masters.get(take.get("master", 0), {}), card or {})
    return made


def _screen_3(screen: Data) -> Data:
    made = {**screen, "light": _LIGHTS.get(screen.get("light", ""), screen.get("light", ""))}
    made["source"] = _SOURCES.get(screen.get("source", ""), screen.get("source", ""))
    made["readings"] = [
        {**r, "source": _SOURCES.get(r.get("source", ""), r.get("source", ""))} for r in screen.get("readings") or []
    ]
    return made


# ---- from 4 to 5: takes name themselves


def _to_5(data: Data) -> Data:
    """A name that was only the paper's, or a copy's of such a one, was nobody's own."""
    papers = {c.get("paper", "") for c in data.get("conditions", [])} | {"sRGB file for a lab"}
    return {**data, "takes": [{**t, "name": _own_name(t.get("name", ""), papers)} for t in data.get("takes", [])]}


def _own_name(name: Any, papers: set[str]) -> Any:
    if not isinstance(name, str):  # its row is lost later, alone
        return name
    bare = name
    while bare.endswith(", again"):
        bare = bare.removesuffix(", again")
    return "" if bare in papers else name


# ---- from 6 to 7: a test sheet knows each of its fields


def _to_7(data: Data) -> Data:
    return {**data, "test_sheets": [_test_sheet_7(s) for s in data.get("test_sheets", [])]}


def _test_sheet_7(sheet: Data) -> Data:
    """What was stepped, and its values, become fields that share the rendition."""
    made, name, values = _without(sheet, "adjustment", "values"), sheet.get("adjustment"), sheet.get("values") or []
    if not name:
        return made
    rendition = sheet.get("rendition") or {}
    variants = [{"number": i, "rendition": rendition, "values": [v]} for i, v in enumerate(values, start=1)]
    return {**made, "names": [name], "variants": variants, "plan": {"kind": "bracket", "first": name, "whole": True}}


#: What brings a format to the next one. Formats 0 (files without a number) and 1 only lacked a table; 3 had no free points, no
#: pulled colours, no lab, ink set, brightener and hours to dry, and did not say when a file was written: all of it is empty then.
#: 4 had no states, no lightness kept with a picture, no sharpening, and habits of amounts alone.
#: 5 knew a sheet by its name alone, no queues and no prints on their way.
#: 6 knew of a test sheet one control and its values; prints had no places, photograph, cause and cost.
_STEPS: dict[int, Callable[[Data], Data]] = {0: dict, 1: dict, 2: _to_3, 3: dict, 4: _to_5, 5: dict, 6: _to_7}
