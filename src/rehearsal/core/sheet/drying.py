"""When a print is dry enough to be judged, by the hours its paper's card tells."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from rehearsal.core.values.words import date_words

_MOST_HOURS = 24 * 31.0


def dry_at(written: str, hours: float) -> datetime | None:
    """The moment from which a print counts as dry.

    Args:
        written: when its file was written (ISO 8601, local time): no print is older than that.
        hours: what its paper wants; 0 when nobody said.

    Returns:
        None when either is not known, or is none (a month of drying is none).
    """
    try:
        start = datetime.fromisoformat(written)
    except ValueError:
        return None
    if start.tzinfo is not None:
        start = start.astimezone().replace(tzinfo=None)
    return start + timedelta(hours=hours) if 0 < hours <= _MOST_HOURS else None


def wet_words(dry: datetime | None, now: datetime) -> str:
    """Until when a print is wet, as ``14:00``, ``tomorrow, 14:00`` or ``29 Nov, 14:00``; empty when it is dry, or nobody knows."""
    if dry is None or dry <= now:
        return ""
    clock = f"{dry:%H:%M}"
    days = (dry.date() - now.date()).days
    if days == 0:
        return clock
    return f"tomorrow, {clock}" if days == 1 else f"{date_words(date.isoformat(dry.date()), now.date())}, {clock}"
