"""Pages of text behind sentences."""

from __future__ import annotations

from html import escape

from rehearsal.core.picture.arrived import good_for
from rehearsal.core.picture.reduce import wanted_ppi
from rehearsal.core.values.words import date_words, word
from rehearsal.session.session import Session


def sizes_html(session: Session) -> str:
    """Largest sizes by viewing distance, by both schools."""
    take, picture = session.now.take, session.now.picture
    if take is None or picture is None:
        return "<p>No picture yet.</p>"
    _x, _y, w, h = take.frame.crop.pixels(*picture.size)
    rows = "".join(
        f"<tr><td>{g.distance_cm:.0f} cm</td><td>{wanted_ppi(g.distance_cm):.0f} ppi</td>"
        f"<td>{g.width_cm:.0f} × {g.height_cm:.0f} cm</td></tr>"
        for g in good_for(w, h)
    )
    return (
        f"<p>The crop has {w} × {h} pixels. The eye resolves about one minute of arc: the nearer one stands, the more "
        "pixels an inch it can use. One school looks from one and a half diagonals of the print, the "
        "other steps as near as 60 cm whatever its size.</p>"
        f"<table cellspacing='6'><tr><td>seen from</td><td>the eye can use</td><td>largest print</td></tr>{rows}</table>"
    )


def lesson_html(session: Session) -> str:
    """The verdicts in the present light, the newest first: all teach what is shared, this paper's what is its own."""
    condition = session.now.condition
    if condition is None:
        return "<p>No paper yet.</p>"
    rows = "".join(
        f"<tr><td>{date_words(e.when)}</td><td>{escape(e.picture)}</td><td>{escape(e.condition_name)}</td>"
        f"<td>{escape(word('verdict', e.verdict))}</td><td>{escape(e.words)}</td></tr>"
        for e in session.logbook.teachers
    )
    said = (
        "Prints seen in the light of now. What prints on all papers share is the screen's and the light's; what those on "
        f"{escape(condition.paper)} say beyond it is the paper's own, and counts the more the more of them there are."
    )
    return f"<p>{said}</p><table cellspacing='6'>{rows}</table>"
