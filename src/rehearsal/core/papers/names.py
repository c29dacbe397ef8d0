"""Suggestions for printer, paper, quality and ink out of cryptic profile names; the user confirms them.

Only words every maker uses are known here (surface, fibre, quality, ink); what is left over is taken as printer code
and paper name by its place and its shape.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

_QUALITY = {
    "hi": "High", "high": "High", "fine": "Fine", "superfine": "Super fine", "max": "Highest", "best": "Best", "std": "Standard",
    "standard": "Standard", "normal": "Normal", "photo": "Photo", "draft": "Draft", "hq": "High", "uhq": "Highest",
}  # fmt: skip
_INK = {
    "mk": "matte black",
    "matteblack": "matte black",
    "pk": "photo black",
    "photoblack": "photo black",
    "lk": "light black",
}
_SURFACE = {
    "gloss": "gloss", "glossy": "gloss", "gl": "gloss", "matte": "matte", "matt": "matte", "mt": "matte", "lustre": "lustre",
    "luster": "lustre", "satin": "satin", "semigloss": "semi-gloss", "sg": "semi-gloss", "pearl": "pearl", "silk": "silk",
    "baryta": "baryta", "fb": "baryta", "cotton": "cotton", "rag": "cotton", "canvas": "canvas", "velvet": "velvet",
    "textured": "textured", "smooth": "smooth", "rc": "resin-coated", "art": "fine art", "fineart": "fine art",
    "etching": "textured", "watercolor": "textured", "watercolour": "textured", "metallic": "metallic", "film": "film",
}  # fmt: skip
#: Suggested driver family of media for a surface, and its usual ink.
_MEDIA = {
    "gloss": ("Photo gloss", "photo black"), "lustre": ("Photo lustre", "photo black"), "satin": ("Photo semi-gloss", "photo black"),
    "semi-gloss": ("Photo semi-gloss", "photo black"), "pearl": ("Photo semi-gloss", "photo black"),
    "silk": ("Photo semi-gloss", "photo black"), "baryta": ("Baryta", "photo black"), "resin-coated": ("Photo gloss", "photo black"),
    "metallic": ("Photo gloss", "photo black"), "matte": ("Matte", "matte black"), "cotton": ("Fine art", "matte black"),
    "fine art": ("Fine art", "matte black"), "textured": ("Fine art, textured", "matte black"), "velvet": ("Fine art", "matte black"),
    "smooth": ("Fine art, smooth", "matte black"), "canvas": ("Canvas", "matte black"), "film": ("Film", "photo black"),
}  # fmt: skip
_NOISE = {"icc", "icm", "profile", "v2", "v4", "m0", "m1", "m2", "printer", "rgb", "cmyk", "generic", "gen", "the", "for", "on",
          "by", "inks", "ink"}  # fmt: skip
_OWN = ("own", "mine", "our", "custom")
_SPLIT = re.compile(r"[_\-.,;:()\[\]{}+/\\\s]+")
_CAMEL = re.compile(r"(?<=[a-zäöü])(?=[A-ZÄÖÜ])|(?<=[A-Z])(?=[A-Z][a-z])|(?<=[a-zäöü]{2})(?=\d)")
_RESOLUTION = re.compile(r"^(360|600|720|1200|1440|2400|2880|4800|5760)(dpi|x\d+)?$", re.IGNORECASE)
_CODE = re.compile(r"^(?=.*\d)[A-Za-z]{1,6}[-]?\d{1,5}[A-Za-z]{0,3}$|^[A-Z]{2,4}$")
_WEIGHT = re.compile(r"^(\d{2,3})(g|gsm|gm2)$", re.IGNORECASE)


@dataclass(frozen=True)
class NameGuess:
    """Suggestions out of a name; empty where nothing was found.

    ``rest`` is what of the file's name was not understood, as it stands there; its tail often is the medium (common practice,
    no source).
    """

    printer: str = ""
    paper: str = ""
    quality: str = ""
    ink: str = ""
    media: str = ""
    surface: str = ""
    weight: str = ""
    own: bool = False
    resolution: str = ""
    rest: str = ""


def pieces(name: str) -> list[str]:
    """A cryptic name cut at signs, and where small letters turn into capitals."""
    parts = [p for p in _SPLIT.split(name) if p]
    return [piece for part in parts for piece in (_CAMEL.sub(" ", part).split() if not _CODE.match(part) else [part])]


def decode_name(description: str, file_stem: str = "", maker_model: str = "") -> NameGuess:
    """Suggestions for a profile.

    Args:
        description: the profile's own name.
        file_stem: file name without its ending.
        maker_model: device maker and model as the profile's tags say, empty when they do not.

    The description is believed first where it is in plain words; the file name adds what is missing.
    """
    first, second = _read(description), _read(file_stem)
    paper = first.paper if len(first.paper) >= 3 else second.paper
    printer = maker_model.strip() or first.printer or second.printer
    surface = first.surface or second.surface
    media, ink = _MEDIA.get(surface, ("", ""))
    return NameGuess(
        printer=printer,
        paper=paper or description.strip(),
        quality=first.quality or second.quality,
        ink=first.ink or second.ink or ink,
        media=media,
        surface=surface,
        weight=first.weight or second.weight,
        own=first.own or second.own,
        resolution=first.resolution or second.resolution,
        rest=_unread(file_stem, f"{description} {maker_model} {second.printer} {paper}"),
    )


def _unread(stem: str, read: str) -> str:
    """The pieces of a file's name that stand nowhere in what was read, and mean nothing every maker means."""
    known = {piece.lower() for piece in pieces(read)} | {word.lower() for word in _SPLIT.split(read)}
    rest = [p for p in pieces(stem) if p.lower() not in known and not _is_common(p.lower())]
    return " ".join(rest)


def _is_common(low: str) -> bool:
    words = low in _QUALITY or low in _INK or low in _SURFACE or low in _NOISE or low in _OWN
    return words or low.isdecimal() or len(low) == 1 or bool(_RESOLUTION.match(low) or _WEIGHT.match(low))


def _read(name: str) -> NameGuess:
    parts = pieces(name)
    found: dict[str, str] = {}
    paper: list[str] = []
    printer: list[str] = []
    own = False
    for i, piece in enumerate(parts):
        low = piece.lower()
        if low in _OWN:
            own = True
        elif low in _QUALITY and (paper or i == len(parts) - 1):
            found.setdefault("quality", _QUALITY[low])
        elif low in _INK:
            found.setdefault("ink", _INK[low])
        elif _RESOLUTION.match(low):
            found.setdefault("resolution", f"{re.sub(r'[^0-9x]', '', low)} dpi")
        elif weight := _WEIGHT.match(low):
            found.setdefault("weight", f"{weight.group(1)} g/m²")
        elif low.isdecimal() and printer and i > 0 and parts[i - 1] == printer[-1]:
            printer.append(piece)
        elif low.isdecimal() and 80 <= int(low) <= 500:
            found.setdefault("weight", f"{low} g/m²")
        elif low in _NOISE or low.isdecimal() or len(piece) == 1:
            continue
        elif low in _SURFACE and not (low in ("gl", "mt", "sg", "fb", "rc") and not paper):
            found["surface"] = found.get("surface", _SURFACE[low])
            paper.append(piece.capitalize() if len(piece) > 3 else _SURFACE[low].capitalize())
        elif not printer and (_is_code(piece, paper) or _next_is_number(parts, i, bool(paper))):
            printer.append(piece)
        else:
            paper.append(piece if not piece.islower() else piece.capitalize())
    return NameGuess(
        printer=" ".join(printer), paper=" ".join(paper), quality=found.get("quality", ""),
        ink=found.get("ink", ""), media="", surface=found.get("surface", ""), weight=found.get("weight", ""), own=own,
        resolution=found.get("resolution", ""),
    )  # fmt: skip


def _is_code(piece: str, paper: list[str]) -> bool:
    return not paper and bool(_CODE.match(piece))


def _next_is_number(parts: list[str], i: int, strict: bool) -> bool:
    """A word before a short number names a machine; behind a paper's name only numbers no paper weighs count."""
    follows = parts[i + 1] if i + 1 < len(parts) else ""
    return follows.isdecimal() and len(follows) <= (2 if strict else 3) and not _RESOLUTION.match(follows)
