"""What is known of a paper without its profile: its surface, the detail it holds, what brightener does, the trade's rules.

All rules and the spread of ink are common practice, no source.
"""

from __future__ import annotations

import math
from collections.abc import Collection

#: Words of a surface by its family, the more telling first: "baryta, semi-gloss" is no gloss, "textured cotton" no smooth matte.
_FAMILIES = (
    ("textured", ("textur", "rough", "canvas", "etch", "watercolo", "coarse")),
    ("lustre", ("baryta", "lustre", "luster", "satin", "semi", "pearl", "silk")),
    ("matte", ("matt", "cotton", "fine art", "velvet", "rag", "smooth")),
    ("gloss", ("gloss", "metallic", "resin", "film")),
)
#: Spread of light and ink in the paper: standard deviation of its point spread in µm (common practice, no source).
SIGMA_UM = {"gloss": 30.0, "lustre": 45.0, "matte": 60.0, "textured": 90.0}
_GOOD_FOR = {
    "gloss": "gloss for strong colour",
    "lustre": "satin for black and white",
    "matte": "matte for noise and quiet tones; smooth matte behind glass",
    "textured": "matte for noise and quiet tones; a coarse texture can distract in even parts",
}
#: The trade's rule for what a photographer cares about: its words, and the families it speaks for.
RULES = {
    "strong colour": ("gloss for strong colour", ("gloss",)),
    "deep black": ("gloss or satin for a deep black; glass in front takes some of it", ("gloss", "lustre")),
    "quiet neutrals": ("satin for black and white, matte for quiet tones", ("lustre", "matte", "textured")),
}
BRIGHTENERS = ("none", "some", "full")
_BRIGHTENER = {
    "none": "The same white by a window and under lamps; it keeps its white for years.",
    "some": "A little whiter by a window; under lamps and behind UV glass it turns yellower.",
    "full": "Much whiter and bluer by a window; under lamps and behind UV glass it turns yellower, and it fades with the years.",
    "": "Nobody has said how much brightener is in it: by a window, hold it beside a paper that has none.",
}


def family(surface: str, texture: str = "") -> str:
    """``gloss``, ``lustre``, ``matte`` or ``textured`` of a paper as its card tells it; empty when that says nothing."""
    told = f"{surface} {texture}".lower()
    return next((name for name, words in _FAMILIES if any(word in told for word in words)), "")


#: A black of this density is that of a glossy or a satin surface; matte ones end below 1.8 (common practice, no source).
_GLOSSY_DMAX = 1.9


def assumed_family(dmax: float) -> str:
    """The family a paper's deepest black speaks for while its card tells no surface; empty without a black.

    Of what can be glossy the one that is sharpened least.
    """
    return "" if dmax <= 0 else "gloss" if dmax >= _GLOSSY_DMAX else "matte"


def detail_mm(kind: str) -> float:
    """Width in mm of a line and its gap whose contrast falls to a half on a surface of that family.

    A Gaussian point spread of σ mm has the transfer exp(−2π²σ²f²); it is one half at f = √(ln 2 / 2) / (πσ) = 0.187 / σ line pairs
    per mm (Fourier transform of a Gaussian).

    Raises:
        KeyError: no such family.
    """
    sigma = SIGMA_UM[kind] / 1000
    return math.pi * sigma / math.sqrt(math.log(2) / 2)


def detail_words(kind: str) -> str:
    """What size of detail is at risk; empty where the surface is not known."""
    if not kind:
        return ""
    return f"lines closer than {detail_mm(kind):.2g} mm lose over half of their contrast"


def good_for(kind: str) -> str:
    """What the trade takes such a surface for; empty where it is not known."""
    return _GOOD_FOR.get(kind, "")


def rule_words(care: str, best: Collection[str], compared: Collection[str]) -> str:
    """The trade's rule for a care as a sentence, and whether the figures of this picture agree with it.

    Args:
        best: families of the papers whose figure is best, all that tie for it; none, or an empty name, when it is not known.
        compared: families of all papers that were compared.
    """
    if care not in RULES:
        return ""
    rule, meant = RULES[care]
    if not best or "" in best or not any(kind in meant for kind in compared):
        return f"The trade's rule: {rule}."
    agrees = any(kind in meant for kind in best)
    return f"The trade's rule agrees: {rule}." if agrees else f"The trade's rule is another one: {rule}."


def brightener_words(brightener: str) -> str:
    """What a paper's brightener means under which light; for an empty word, how to find out."""
    return _BRIGHTENER.get(brightener, _BRIGHTENER[""])
