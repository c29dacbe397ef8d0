"""Words for kept keys. What is kept is a key, what is shown is a word: one table for each language.

Another language is one more file beside ``en.py`` with the same groups and keys, and its line in LANGUAGES.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from rehearsal.core.values.adjustments import Values, declared
from rehearsal.core.values.pull import Pull
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.words import en

LANGUAGES = {"en": en.WORDS}


def word(group: str, key: str, language: str = "en") -> str:
    """The word for a key; a text that is no key (the user's own) is its own word."""
    return LANGUAGES[language][group].get(key, key)


def capital(text: str) -> str:
    """With a capital at its start; a name that is written otherwise (sRGB) stays as it is."""
    return text if text[1:2].isupper() else text[:1].upper() + text[1:]


def all_words(group: str, language: str = "en") -> list[tuple[str, str]]:
    """Word and key of a whole group, in its order, for choices."""
    return [(text, key) for key, text in LANGUAGES[language][group].items()]


def hue_words(key: str) -> str:
    """Everyday name of a hue key; ``dark.green`` is a shade of ``green``."""
    shade, _, hue = key.rpartition(".")
    return word("shade", shade).format(word("hue", hue)) if shade else word("hue", hue)


def amount(name: str, value: float) -> str:
    """An amount of an adjustment beside its slider, with its unit."""
    each = declared(name)
    if not value:
        return word("unit_short", each.unit).format(word("zero", name)).strip()
    if each.unit == "stop":
        return f"{'+' if value > 0 else '−'}{stops_words(value)}"
    return word("unit_short", each.unit).format(f"{value:+.0f}").strip()


def values_words(values: Values) -> list[str]:
    """Each amount that is not zero, with its unit, for tickets, labels and the log."""
    made = []
    for name, value in values:
        text = word("amount_less" if value < 0 else "amount", name)
        made.append(text.format(value=value, size=abs(value), stops=stops_words(value)))
    made += [word("point", "lifted" if p.to > p.at else "lowered").format(at=p.at, to=p.to) for p in values.points]
    return made + [pull_words(pull) for pull in values.pulled if pull.acts]


def pull_words(pull: Pull) -> str:
    """A colour pulled: its name, and what it becomes: lightness in per cent of black to white, strength of its own, hue in degrees."""
    stronger = pull.stronger / pull.chroma * 100 if pull.chroma > 0 else 0.0
    shifts = (("lighter", pull.lighter * 100), ("stronger", stronger), ("turned", pull.turned))
    parts = [
        word("pull" if value > 0 else "pull_less", name).format(size=abs(value))
        for name, value in shifts
        if round(value)
    ]
    name = hue_words(pull.name) if pull.name else word("pull", "colour")
    return word("pull", "pulled").format(name=name, how=in_row(parts) if parts else word("pull", "little"))


def learnt_words(values: Values) -> str:
    """A learnt correction within a sentence; what is no sixth of a stop is told as about the nearest one."""
    return ", ".join(
        word("learnt_more" if value > 0 else "learnt_less", name).format(size=about_stops(value))
        for name, value in values
    )


def about_stops(stops: float) -> str:
    """A size in stops by the nearest sixth, ``about ⅓ stop`` where it is none; under a twelfth ``hardly anything``."""
    nearest = round(abs(stops) * 6) / 6
    if not nearest:
        return word("about", "hardly")
    words = stops_words(nearest)
    return words if stops_words(stops) == words else word("about", "size").format(size=words)


def rendering_short(rendering: Rendering) -> str:
    """Intent in a word, for names: what is usual is not said."""
    plain = rendering.intent == "relative" and not rendering.compensate
    return word("intent_short", "relative_plain" if plain else rendering.intent)


def in_row(words: Sequence[str]) -> str:
    """One, two or more words in a row."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


_SIXTHS = ("", "⅙", "⅓", "½", "⅔", "⅚")


def stops_words(stops: float) -> str:
    """A size in stops as photographers say it: ``⅓ stop``, ``1 stop``, ``1½ stops``; what is no sixth in tenths,
    ``1.6 stops``, below a stop in hundredths, ``0.15 stops``.
    """
    size = abs(stops)
    whole, sixth = divmod(round(size * 6), 6)
    exact = abs(size * 6 - round(size * 6)) < 0.06
    number = f"{whole or ''}{_SIXTHS[sixth]}" if exact and (whole or sixth) else f"{size:.{2 if size < 1 else 1}f}"
    number = number if number in _SIXTHS or "." not in number else number.rstrip("0").rstrip(".")
    return f"{number} {'stop' if number == '1' or number in _SIXTHS else 'stops'}"


def date_words(iso: str, today: date | None = None) -> str:
    """A date as people write it: of this year without the year; a text that is no date is its own word."""
    try:
        when = date.fromisoformat(iso)
    except ValueError:
        return iso
    short = f"{when.day} {word('month', str(when.month))}"
    return short if when.year == (today or date.today()).year else f"{short} {when.year}"


def moment_words(iso: str, now: datetime | None = None) -> str:
    """A moment as people write it: of today its time, else its day; a text that is no moment is its own word."""
    try:
        when = datetime.fromisoformat(iso)
    except ValueError:
        return iso
    today = (now or datetime.now()).date()
    return f"{when:%H:%M}" if when.date() == today and len(iso) > 10 else date_words(when.date().isoformat(), today)


def counted(count: int, one: str, many: str = "") -> str:
    """A number with its noun: ``1 take``, ``2 takes``."""
    return f"{count} {one if count == 1 else many or f'{one}s'}"


def share_words(share: float) -> str:
    """A share as people read it."""
    if share <= 0:
        return "0 %"
    if share < 0.1:
        return "< 0.1 %"
    return f"{share:.0f} %" if share >= 9.5 else f"{share:.1f} %"
