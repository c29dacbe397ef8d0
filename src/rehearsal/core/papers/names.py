"""Suggestions for printer, paper, quality and ink out of cryptic profile names; the user confirms them.

Only words every maker uses are known here (surface, fibre, quality, ink). A printer is known by the cards on the shelf and by what the
profile itself says, never by the place or the shape of a word: what comes first in a name is as often the paper's maker (common
practice, no source). What is not understood is left open and quoted.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

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
          "by", "inks", "ink", "quality", "default", "canned", "paper", "settings", "gsm", "gram", "grams"}  # fmt: skip
#: Surfaces that are only read behind a paper's name: before it they may be anything.
_SHORT = ("gl", "mt", "sg", "fb", "rc")
_OWN = ("own", "mine", "our", "custom")
_SPLIT = re.compile(r"[_\-.,;:()\[\]{}+/\\\s]+")
_CAMEL = re.compile(r"(?<=[a-zäöü])(?=[A-ZÄÖÜ])|(?<=[A-Z])(?=[A-Z][a-z])|(?<=[a-zäöü]{2})(?=\d)")
_RESOLUTION = re.compile(r"^(360|600|720|1200|1440|2400|2880|4800|5760)(dpi|x\d+)?$", re.IGNORECASE)
_CODE = re.compile(r"^(?=.*\d)[A-Za-z]{1,6}[-]?\d{1,5}[A-Za-z]{0,3}$|^[A-Z]{2,4}$")
_PLAIN_WEIGHT = re.compile(r"^([1-4]\d\d|[89]\d)$")
_WEIGHT = re.compile(r"^(\d{2,3})(g|gsm|gm2)$", re.IGNORECASE)


@dataclass(frozen=True)
class NameGuess:
    """Suggestions out of a name; empty where nothing was found.

    ``rest`` is what of the names was not understood, as it stands there; its tail often is the medium (common practice, no source).
    ``media`` is suggested by the surface only while nothing is left over.
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
    cut = [piece for part in parts for piece in (_CAMEL.sub(" ", part).split() if not _CODE.match(part) else [part])]
    return _joined(cut)


def _joined(parts: list[str]) -> list[str]:
    """``matte`` and ``black`` are one word for an ink."""
    made: list[str] = []
    for part in parts:
        if made and part.lower() == "black" and made[-1].lower() in ("matte", "photo"):
            made[-1] += part
        else:
            made.append(part)
    return made


def medium_words(unread: str) -> str:
    """What was not understood of a name, where the medium is asked for."""
    return f"“{unread}”: the medium?" if unread else ""


def decode_name(
    description: str, file_stem: str = "", maker_model: str = "", printers: Sequence[str] = ()
) -> NameGuess:
    """Suggestions for a profile.

    Args:
        description: the profile's own name.
        file_stem: file name without its ending.
        maker_model: device maker and model as the profile's tags say, empty when they do not.
        printers: names of the printers on the shelf.

    The description is believed first where it is in plain words; the file name adds what is missing.
    """
    known = [name for name in dict.fromkeys((maker_model.strip(), *printers)) if name]
    said = _machine_of_both(pieces(description), pieces(file_stem))
    first = _Name(description, [*known, said] if said else known)
    second = _Name(file_stem, [*known, first.printer] if first.printer else known)
    found = {**second.found, **first.found}
    paper = first.paper if len(first.paper) >= 3 else second.paper or first.paper
    surface, rest = found.get("surface", ""), _rest(first, second, paper)
    media, ink = _MEDIA.get(surface, ("", ""))
    return NameGuess(
        printer=maker_model.strip() or first.printer or second.printer,
        paper=paper or description.strip(),
        quality=found.get("quality", ""),
        ink=found.get("ink", "") or ink,
        media="" if rest else media,
        surface=surface,
        weight=found.get("weight", ""),
        own=first.own or second.own,
        resolution=found.get("resolution", ""),
        rest=rest,
    )


def _rest(first: _Name, second: _Name, paper: str) -> str:
    """What was understood in neither name; of the file's words those that stand in plain words in the description are."""
    said = {piece.lower() for name in (first.paper, first.printer, paper) for piece in pieces(name)}
    left = (p for p in second.left if p.lower() not in said and not _is_common(p))
    return " ".join(dict.fromkeys((*first.unread, *left)))


def _machine_of_both(parts: list[str], stem: list[str]) -> str:
    """A word and a number in the description whose code stands in the file's name (``Skarn 24``, ``SK24``): two say the same machine."""
    for one, two in pairwise(parts):
        named = f"{one} {two}"
        if two.isdecimal() and one[0].isupper() and any(_is_code_of(p, named) and not p.isdecimal() for p in stem):
            return named
    return ""


class _Name:
    """A name read word by word: ``printer``, ``paper``, ``own``, what else was ``found``, and what was ``unread``."""

    def __init__(self, name: str, printers: Sequence[str]) -> None:
        parts = pieces(name)
        self.printer, span = _known_printer(parts, printers) or _said_printer(parts) or ("", range(0))
        self.found: dict[str, str] = {}
        self.unread: list[str] = []
        self.own = any(parts[i].lower() in _OWN for i in span)
        self._words: list[str] = []
        rest = [p for i, p in enumerate(parts) if i not in span]
        skip = _machine(rest) if not self.printer else 0
        self.unread += rest[:skip]
        for i, piece in enumerate(rest[skip:]):
            self._read(piece, is_last=i + skip == len(rest) - 1)
        self.paper = " ".join(self._words)
        #: What was not understood and what was taken for the paper, in their order.
        self.left = [p for p in rest if p in self.unread or _capital(p) in self._words]

    def _read(self, piece: str, is_last: bool) -> None:
        low = piece.lower()
        if low in _OWN:
            self.own = True
        elif low in _QUALITY and (self._words or is_last):
            self.found.setdefault("quality", _QUALITY[low])
        elif low in _INK:
            self.found.setdefault("ink", _INK[low])
        elif _RESOLUTION.match(low):
            self.found.setdefault("resolution", f"{re.sub(r'[^0-9x]', '', low)} dpi")
        elif weight := _WEIGHT.match(low) or (_PLAIN_WEIGHT.match(low) if self._words else None):
            self.found.setdefault("weight", f"{weight.group(1)} g/m²")
        elif low in _SURFACE and not (low in _SHORT and not self._words):
            self.found.setdefault("surface", _SURFACE[low])
            self._words.append(_capital(piece))
        elif low in _NOISE or low.isdecimal() or len(piece) == 1:
            pass
        elif _CODE.match(piece):
            self.unread.append(piece)
        else:
            self._words.append(_capital(piece))


def _capital(piece: str) -> str:
    """A paper keeps its own words; only what is all small letters is written as a name."""
    if piece.lower() in _SHORT:
        return piece.upper()
    return piece.capitalize() if piece.islower() else piece


def _known_printer(parts: list[str], printers: Sequence[str]) -> tuple[str, range] | None:
    """A printer of the list that stands in a name, in full or as its code, and where; the longest of several."""
    found = []
    for printer in printers:
        plain = _plain(printer)
        for start in range(len(parts)):
            for end in range(start + 1, min(start + 5, len(parts)) + 1):
                said = _plain("".join(parts[start:end]))
                if said == plain or (end == start + 1 and _is_code_of(parts[start], printer)):
                    found.append((len(said), printer, range(start, end)))
    if not found or len({printer for _n, printer, _r in found if _n == max(found)[0]}) > 1:
        return None
    _length, printer, span = max(found, key=lambda f: f[0])
    return printer, span


def _plain(text: str) -> str:
    return "".join(c for c in text.lower() if c.isalnum())


def _is_code_of(piece: str, printer: str) -> bool:
    """``SK24`` for ``Skarn 24``: the same figures, and letters that stand in its name in their order, from the first on."""
    letters, figures = (re.sub(r"[^a-z]", "", piece.lower()), re.sub(r"\D", "", piece))
    name, own = re.sub(r"[^a-z]", "", printer.lower()), re.sub(r"\D", "", printer)
    if not letters or not figures or figures != own or letters[0] != name[:1]:
        return False
    rest = iter(name)
    return all(letter in rest for letter in letters)


def _said_printer(parts: list[str]) -> tuple[str, range] | None:
    """A printer the name tells in plain words: ``… on Skarn 24``, ``… for our Skarn 24``."""
    for i, piece in enumerate(parts):
        if piece.lower() not in ("on", "for", "our") or i == 0:
            continue
        start = i + 1
        while start < len(parts) and parts[start].lower() in (*_OWN, "the"):
            start += 1
        end = start + 1
        while (
            end < len(parts) and end < start + 3 and any(c.isdigit() for c in parts[end]) and not _is_common(parts[end])
        ):
            end += 1
        named = parts[start:end]
        if named and named[0][0].isupper() and not _is_common(named[0]) and any(c.isdigit() for c in "".join(named)):
            return " ".join(named), range(i + 1 if piece.lower() != "our" else i, end)
    return None


def _machine(parts: list[str]) -> int:
    """How many words at the front look like a machine nobody has named: a word and a number, with the paper behind them."""
    if len(parts) < 3 or not parts[1].isdecimal() or parts[0].lower() in _SURFACE or parts[0].isdecimal():
        return 0
    behind = [p for p in parts[2:] if not _is_common(p) or p.lower() in _SURFACE]
    return 2 if behind and not _RESOLUTION.match(parts[1]) else 0


def _is_common(piece: str) -> bool:
    low = piece.lower()
    words = low in _QUALITY or low in _INK or low in _SURFACE or low in _NOISE or low in _OWN
    return words or len(low) == 1 or bool(_RESOLUTION.match(low) or _WEIGHT.match(low))
