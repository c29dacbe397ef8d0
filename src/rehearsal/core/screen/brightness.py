"""The arithmetic between the screen's light and the light on the print, and trust in the screen."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date

from rehearsal.core.values.words import stops_words

#: Usual lux on a print (common practice, no source).
USUAL_LIGHT = (
    ("living-room", 150.0),
    ("office", 300.0),
    ("gallery-spot", 250.0),
    ("desk-lamp", 500.0),
    ("window", 1000.0),
    ("booth", 500.0),
    ("booth-critical", 2000.0),
)


def paper_luminance(lux: float, white_y: float) -> float:
    """Luminance in cd/m² of paper with reflectance factor Y lit by so many lux: E · ρ / π (Lambert's law)."""
    return lux * white_y / math.pi


def screen_offset(screen_white: float, paper: float) -> float:
    """Stops the screen's white is above the lit paper: log2(screen / paper); negative when it is darker."""
    return math.log2(screen_white / paper)


#: Colour of the usual lights in kelvin (common practice, no source).
USUAL_KELVIN = {
    "living-room": 2700.0, "office": 4000.0, "gallery-spot": 3000.0, "desk-lamp": 5000.0, "window": 6500.0, "booth": 5000.0,
    "booth-critical": 5000.0,
}  # fmt: skip
#: Screen and lit paper agree while they are no further apart than this, in stops; further, the screen is worth setting.
AGREE = 0.17
#: Whites a screen should be set to, cd/m² (common practice, no source).
LEAST_WHITE, MOST_WHITE = 60.0, 160.0

#: A print lifted by more than this (stops) is washed out in other light (common practice, no source).
MOST_LIFT = 1.0


@dataclass(frozen=True)
class BrightnessAdvice:
    """What to do about a difference: set the screen first, lighten the print only by the rest.

    Attributes:
        paper: luminance of the lit paper, cd/m²; 0 likewise.
        offset: stops the screen is above it.
        set_screen_to: cd/m²; 0 where only the two were matched by eye and no cd/m² is known.
        rest: stops of lightness left for the print after the screen is set within 60 to 160 cd/m².
        words: one sentence.
    """

    paper: float
    offset: float
    set_screen_to: float
    rest: float
    words: str


def lighten_words(advice: BrightnessAdvice) -> str:
    """What a button says that makes up for the light; empty while the rest is under a sixth of a stop, or a lift over a whole one."""
    if abs(advice.rest) < 1 / 6 or advice.rest > MOST_LIFT:
        return ""
    return f"{'Lighten' if advice.rest > 0 else 'Darken'} this print by {stops_words(round(advice.rest * 6) / 6)}"


def lux_for_screen(screen_white: float, white_y: float) -> float:
    """Lux under which the paper is as light as the screen, for those who would rather change the lamp: L · π / ρ."""
    return screen_white * math.pi / white_y


def light_sentence(advice: BrightnessAdvice, light: str, tuned_stops: float = 0.0, screen_white: float = 0.0) -> str:
    """What the verdict of a take says about its light; empty when the print will look as light as the screen.

    Args:
        light: name of the light on the print; empty when nobody has named it.
        tuned_stops: lightness that the take's steps for the light and learnt carry; what is tuned by hand shows on the screen.
        screen_white: cd/m²; the remedy, which is to set the screen, is named when it is known.
    """
    left = advice.offset - tuned_stops
    if abs(left) < 0.25:
        return ""
    looks = "darker" if left > 0 else "lighter"
    named = f" ({light})" if light else ""
    text = f"In its light{named} it will look {stops_words(left)} {looks} than this screen"
    if advice.set_screen_to == 0:
        return f"{text}; make the screen {'darker' if left > 0 else 'brighter'} by as much first."
    if screen_white > 0 and abs(screen_offset(screen_white, advice.set_screen_to)) >= AGREE:
        return f"{text}; set the screen to {advice.set_screen_to:.0f} cd/m² first."
    return f"{text}."


def advise_brightness(lux: float, white_y: float, screen_white: float) -> BrightnessAdvice:
    """Arithmetic and advice for a print under a light beside a screen."""
    paper = paper_luminance(lux, white_y)
    offset = screen_offset(screen_white, paper)
    target = min(max(paper, LEAST_WHITE), MOST_WHITE)
    rest = screen_offset(target, paper)
    return BrightnessAdvice(paper, offset, target, rest, _words(paper, offset, target, rest))


def advise_beside(beside: float, white_y: float) -> BrightnessAdvice:
    """Advice where a field of the screen was matched with lit paper by eye: nobody knows cd/m², so all of it is for the screen.

    Args:
        beside: a perfect white in the light on the prints : the screen's white.
        white_y: Y of the paper's white, 0 to 1.
    """
    offset = -math.log2(beside * white_y)
    if abs(offset) < AGREE:
        return BrightnessAdvice(0.0, offset, 0.0, 0.0, "Screen and lit paper agree, matched by eye.")
    side, looks = ("brighter", "darker") if offset > 0 else ("darker", "lighter")
    words = (
        f"Matched by eye, the screen is {stops_words(offset)} {side} than the lit paper, so prints will look {looks} than the "
        f"screen. Make the screen {looks if offset > 0 else 'brighter'} until full white and paper are alike."
    )
    return BrightnessAdvice(0.0, offset, 0.0, 0.0, words)


def _words(paper: float, offset: float, target: float, rest: float) -> str:
    if abs(offset) < AGREE:
        return f"Screen and lit paper agree: the paper shines with {paper:.0f} cd/m²."
    side = "brighter" if offset > 0 else "darker"
    looks = "darker" if offset > 0 else "lighter"
    text = (
        f"The screen is {stops_words(offset)} {side} than the lit paper ({paper:.0f} cd/m²), so prints will look "
        f"{looks} than the screen. Set the screen to {target:.0f} cd/m²"
    )
    if rest > MOST_LIFT:
        return f"{text}; the rest, {stops_words(rest)}, would leave the print washed out in any other light: give it more light instead."
    if abs(rest) >= AGREE:
        return f"{text}; the rest, {stops_words(rest)}, is for the print."
    return text + "."


@dataclass(frozen=True)
class Trust:
    """Whether the screen can be believed: ``fresh``, ``soon``, ``old``, ``untold`` (its hours) or ``unknown``; days since; words."""

    state: str
    days: int | None
    words: str


def trust(calibrated: str, interval: float, today: date, hours: float | None = None) -> Trust:
    """Trust in a screen calibrated on an ISO date (empty when never).

    Args:
        interval: days, or hours of light when ``hours`` is given; common are 14 to 30 days or 200 hours
            (common practice, no source).
        hours: of light since then, as they were counted, 0 when nobody has told them: no calendar knows them.
    """
    if not calibrated:
        return Trust("unknown", None, "never calibrated, as far as known")
    days = (today - date.fromisoformat(calibrated)).days
    ago = "today" if days <= 0 else "yesterday" if days == 1 else f"{days} days ago"
    if hours is not None and hours <= 0 < days:
        return Trust("untold", days, f"calibrated {ago}, its hours of light are not told")
    age = float(days) if hours is None else hours
    if hours:
        ago = f"{ago}, {hours:.0f} hours of light"
    if age > interval:
        return Trust("old", days, f"calibrated {ago}, due")
    if age > 0.9 * interval:
        return Trust("soon", days, f"calibrated {ago}, due soon")
    return Trust("fresh", days, f"calibrated {ago}")


def doubt(state: str, measured: float | None) -> str:
    """How much uncertainty a screen adds to all that is seen, as a sentence; empty when it adds little.

    Args:
        state: of :class:`Trust`.
        measured: mean ΔE₀₀ of the last check, or None. Without one the figures are common practice, no source.
    """
    if measured is not None:
        text = f"At its last check this screen was off by ΔE₀₀ {measured:.1f}: differences smaller than that prove nothing."
        return text if measured > 1.0 else ""
    if state == "unknown":
        return "An unverified screen can be off by ΔE₀₀ 3 to 6, more than most papers are from each other."
    if state == "old":
        return "An old calibration adds a doubt of about ΔE₀₀ 1 to 3 to all you see."
    return ""
