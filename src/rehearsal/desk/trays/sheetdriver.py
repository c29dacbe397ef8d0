"""What is set where it is printed: as a person set it in a driver, or as a queue lets it be set."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QWidget

from rehearsal.core.sheet.queueing import set_word, wanted_word
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.queue import QueueOffers
from rehearsal.core.values.words import all_words
from rehearsal.desk import theme
from rehearsal.desk.parts.columns import Column
from rehearsal.desk.parts.numberfield import NumberField
from rehearsal.desk.parts.widgets import Choice, Form, choice, quiet, show_choice
from rehearsal.session.session import Session
from rehearsal.workbook.values import Take

_INTENTS = (("as judged", ""), ("perceptual", "perceptual"), ("relative", "relative"), ("saturation", "saturation"))
_COMPENSATION = (("as judged", ""), ("on", "on"), ("off", "off"))
#: What is written by hand in a driver: field of the hand-over, its label, field of the card.
_WRITTEN = (("media", "Media setting", "media_setting"), ("feed", "Feed", "feed"), ("quality", "Quality", "quality"))
#: Settings of a queue in their order.
_ROLES = (
    ("media", "Media setting"), ("feed", "Feed"), ("quality", "Quality"), ("mode", "Colour mode"), ("speed", "High speed"),
    ("coat", "Gloss coat"), ("ink", "Black ink"),
)  # fmt: skip
#: Why a setting is as it is (common practice, no source).
_WHY = {
    "media": "It decides how much ink goes down: the one the profile was made with, by its own name.",
    "feed": "Thick sheets go singly from the rear; from above up to about 260 g/m².",
    "quality": "As the profile was made. One below the highest often shows no difference and is faster.",
    "mode": "A black-and-white mode does not use the profile: colour, unless it is meant.",
    "speed": "Prints both ways: faster, and where bands come from.",
    "coat": "On gloss it evens the sheen; on matte it does nothing good. An extra black coat nearly doubles the time.",
    "ink": "Matte black on matte surfaces, photo black on all others.",
}
_CHOOSE = "choose what it is called…"


class DriverColumn:
    """Two faces: fields of a driver that was set by hand, and a queue's own settings."""

    def __init__(self, session: Session, column: Column) -> None:
        self._session = session
        self._by_hand, self._at_queue = QWidget(), QWidget()
        self._build_by_hand()
        self._build_at_queue()
        column.add(self._by_hand)
        column.add(self._at_queue)
        column.end()

    def _build_by_hand(self) -> None:
        form = Form()
        form.setContentsMargins(0, 0, 0, 0)
        self._by_hand.setLayout(form)
        change = self._session.takes.change_hand_over
        self.who = choice(all_words("converter"))
        self.who.activated.connect(lambda _i: change(converter=self.who.currentData()))
        form.row("Who converts", self.who)
        self.intent = choice(list(_INTENTS))
        self.intent.activated.connect(lambda _i: change(program_intent=self.intent.currentData()))
        form.row("Intent there", self.intent)
        self.compensation = choice(list(_COMPENSATION))
        self.compensation.activated.connect(lambda _i: change(program_compensation=self.compensation.currentData()))
        form.row("Compensation there", self.compensation)
        self.written = {}
        for field, label, _card in _WRITTEN:
            box = self.written[field] = QComboBox()
            box.setEditable(True)
            box.setMinimumWidth(theme.px(112))
            box.lineEdit().editingFinished.connect(lambda b=box, f=field: change(**{f: b.currentText().strip()}))
            box.activated.connect(lambda _i, b=box, f=field: change(**{f: b.currentText().strip()}))
            form.row(label, box)
            form.labels[label].setToolTip(_WHY[field])
        self.scale = NumberField(10, 400, 0, "%")
        self.scale.valueChanged.connect(lambda v: change(scale_percent=v))
        form.row("Scale", self.scale)
        self.speed, self.grey = QCheckBox("high speed"), QCheckBox("black-and-white mode")
        self.speed.clicked.connect(lambda on: change(speed="on" if on else ""))
        self.speed.setToolTip(_WHY["speed"])
        self.grey.setToolTip(_WHY["mode"])
        self.grey.clicked.connect(lambda on: change(mode="grey" if on else ""))
        both = QHBoxLayout()
        both.addWidget(self.speed)
        both.addWidget(self.grey)
        both.addStretch(1)
        form.addLayout(both, form.rowCount(), 0, 1, 2)

    def _build_at_queue(self) -> None:
        form = self._queue_form = Form()
        form.setContentsMargins(0, 0, 0, 0)
        self._at_queue.setLayout(form)
        self.roles: dict[str, Choice] = {}
        for role, label in _ROLES:
            box = self.roles[role] = choice([])
            box.setMinimumWidth(theme.px(112))
            box.setToolTip(_WHY[role])
            box.setAccessibleDescription(_WHY[role])
            box.activated.connect(lambda _i, r=role, b=box: self._choose(r, b.currentData()))
            form.row(label, box)
        self.state = quiet(wrap=True)
        form.addWidget(self.state, form.rowCount(), 0, 1, 2)

    def _choose(self, role: str, word: str) -> None:
        """Another setting; what a card's own is called at a queue is told once and kept with the card."""
        session = self._session
        take, condition = session.now.take, session.now.condition
        offers = None if take is None else session.queues.offers(take.hand_over.queue)
        if take is None or condition is None or offers is None or not word:
            return
        wanted = wanted_word(role, condition, offers)
        if not wanted:
            session.sheets.tell_word(role, word)
        else:
            session.takes.change_hand_over(**{role: "" if word == wanted else word})

    def refresh(self, take: Take, condition: PrintCondition) -> None:
        """Follow the take."""
        queue = take.hand_over.queue
        self._by_hand.setVisible(not queue)
        self._at_queue.setVisible(bool(queue))
        if queue:
            self._show_queue(take, condition, self._session.queues.offers(queue))
        else:
            self._show_by_hand(take, condition)

    def _show_by_hand(self, take: Take, condition: PrintCondition) -> None:
        hand_over = take.hand_over
        space = hand_over.route == "space"
        self.intent.setEnabled(space)
        self.compensation.setEnabled(space)
        show_choice(self.who, hand_over.converts)
        show_choice(self.intent, hand_over.program_intent)
        show_choice(self.compensation, hand_over.program_compensation)
        same = [c for c in self._session.shelf.conditions if c.printer == condition.printer]
        for field, _label, card in _WRITTEN:
            known = [str(getattr(c, card)) for c in same if getattr(c, card)]
            _fill(self.written[field], known, getattr(hand_over, field) or getattr(condition, card))
        self.scale.show_value(hand_over.scale_percent)
        self.speed.setChecked(hand_over.speed == "on")
        self.grey.setChecked(hand_over.mode == "grey")

    def _show_queue(self, take: Take, condition: PrintCondition, offers: QueueOffers | None) -> None:
        for role, label in _ROLES:
            option = None if offers is None else offers.option(role)
            box, name = self.roles[role], self._queue_form.labels[label]
            box.setVisible(option is not None)
            name.setVisible(option is not None)
            if option is None or offers is None:
                continue
            word = set_word(role, take.hand_over, condition, offers)
            items = [*([] if word else [_CHOOSE]), *option.choices]
            if [box.itemText(i) for i in range(box.count())] != items:
                with QSignalBlocker(box):
                    box.clear()
                    for text in items:
                        box.addItem(text, "" if text == _CHOOSE else text)
            show_choice(box, word)
        self.state.setText(queue_words(offers))


def queue_words(offers: QueueOffers | None) -> str:
    """How a queue stands, as a sentence."""
    if offers is None:
        return "Asking the queue…"
    if not offers.options:
        return "This queue lets nothing be set: whatever it stands at is used."
    stands = "It is simulated: no paper is used." if offers.simulated else "Sent unscaled, each setting by its name."
    return f"{offers.stopped.capitalize()}." if offers.stopped else stands


def _fill(box: QComboBox, items: list[str], current: str) -> None:
    if box.lineEdit().hasFocus():
        return
    box.blockSignals(True)
    box.clear()
    box.addItems(list(dict.fromkeys([current, *items])) if current else list(dict.fromkeys(items)))
    box.setCurrentText(current)
    box.setToolTip(current)
    box.lineEdit().setCursorPosition(0)
    box.blockSignals(False)
