"""Under the pointer a button never changes its act."""

from PyQt6.QtCore import QEvent
from pytestqt.qtbot import QtBot

from rehearsal.desk.parts.offer import Offer


def test_another_offer_waits_until_the_pointer_has_left(qtbot: QtBot, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    done: list[str] = []
    made = Offer("by hand")
    qtbot.addWidget(made)
    made.offer("Choose it", lambda: done.append("choose"))
    made.show()
    assert made.text() == "Choose it" and made.toolTip() == "by hand"
    here = [True]
    monkeypatch.setattr(made, "underMouse", lambda: here[0])
    made.offer("New take on it", lambda: done.append("new"))
    assert made.text() == "Choose it"
    made.click()
    assert done == ["choose"], "what was read is what is done"
    made.offer("Choose it", lambda: done.append("choose again"))  # back before the pointer left: nothing waits
    here[0] = False
    made.leaveEvent(QEvent(QEvent.Type.Leave))
    assert made.text() == "Choose it"
    here[0] = True
    made.offer("New take on it", lambda: done.append("new"), "New take", "in full")
    here[0] = False
    made.leaveEvent(QEvent(QEvent.Type.Leave))
    assert (made.text(), made.accessibleName(), made.toolTip()) == ("New take on it", "New take", "in full")
    made.click()
    assert done == ["choose", "new"]
