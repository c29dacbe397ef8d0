"""Neutral chrome for dark, mid and light rooms; one shipped type family with tabular figures."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import resources

from PyQt6.QtGui import QColor, QFont, QFontDatabase
from PyQt6.QtWidgets import QApplication

FAMILY = "Inter"
SMALL, NORMAL, LARGE = 8.6, 9.75, 10.9


@dataclass(frozen=True)
class Room:
    """Grey levels (0 to 255, R = G = B) of one room tone."""

    name: str
    ribbon: int
    rack: int
    chrome: int
    raised: int
    field: int
    surround: int
    line: int
    text: int
    quiet: int

    def colour(self, part: str) -> QColor:
        """A part's grey."""
        level = getattr(self, part)
        return QColor(level, level, level)

    def hex(self, part: str) -> str:
        """A part's grey for style sheets."""
        return self.colour(part).name()


ROOMS = {
    "dark": Room("dark", 0x1C, 0x22, 0x28, 0x36, 0x1A, 0x38, 0x5E, 0xDC, 0xB8),
    "mid": Room("mid", 0x33, 0x3B, 0x42, 0x52, 0x2E, 0x6B, 0x7D, 0xEC, 0xCF),
    "light": Room("light", 0xC4, 0xCC, 0xD4, 0xE4, 0xF0, 0xA8, 0x84, 0x16, 0x30),
}


def load_fonts() -> None:
    """Register the shipped family."""
    folder = resources.files("rehearsal") / "data" / "fonts"
    for name in ("Inter-Regular.otf", "Inter-SemiBold.otf"):
        QFontDatabase.addApplicationFontFromData((folder / name).read_bytes())


def font(points: float = NORMAL, strong: bool = False) -> QFont:
    """The interface's font with tabular figures."""
    made = QFont(FAMILY)
    made.setPointSizeF(points)
    made.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
    made.setFeature(QFont.Tag(b"tnum"), 1)
    return made


_SHEET = """
* {{ font-family: "{family}"; font-size: {normal}pt; color: {text}; }}
QMainWindow, QDialog, QWidget#desk {{ background: {chrome}; }}
QWidget#tray, QWidget#verdict {{ background: {chrome}; }}
QWidget#ribbon {{ background: {ribbon}; }}
QWidget#rack {{ background: {rack}; }}
QLabel {{ background: transparent; }}
QLabel[quiet="true"] {{ color: {quiet}; font-size: {small}pt; }}
QLabel[heading="true"] {{ font-weight: 600; }}
QLabel[sentence="true"] {{ font-size: {large}pt; }}
QPushButton, QToolButton {{ background: {raised}; border: 1px solid {raised}; padding: 3px 9px; text-align: left; }}
QPushButton:hover, QToolButton:hover {{ border-color: {line}; }}
QPushButton:focus, QToolButton:focus, QComboBox:focus, QAbstractSpinBox:focus, QLineEdit:focus,
QPlainTextEdit:focus, QTableWidget:focus, QListWidget:focus, QTreeWidget:focus {{ border: 1px solid {text}; }}
QPushButton:checked {{ border-left: 4px solid {text}; background: {line}; padding-left: 6px; }}
QPushButton:disabled, QComboBox:disabled, QAbstractSpinBox:disabled {{ color: {line}; }}
QPushButton[link="true"] {{ background: transparent; border: none; text-decoration: underline; padding: 0 2px; }}
QPushButton[page="true"] {{ background: transparent; border: none; color: {quiet}; padding: 0; font-weight: 600; }}
QPushButton[page="true"]:checked {{ color: {text}; border: none; background: transparent; padding: 0 0 1px 0;
    border-bottom: 2px solid {text}; }}
QPushButton[page="true"]:focus {{ border-bottom: 2px dotted {text}; }}
QFrame#mending {{ background: {chrome}; border: 1px solid {line}; }}
QWidget#board {{ background: {chrome}; }}
QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {quiet}; background: {field}; }}
QCheckBox::indicator:checked {{ background: {text}; border: 1px solid {text}; image: none; }}
QCheckBox:focus {{ border-bottom: 1px dotted {text}; }}
QPushButton[link="true"]:focus {{ border: 1px solid {text}; }}
QComboBox, QAbstractSpinBox, QLineEdit, QPlainTextEdit {{
    background: {field}; border: 1px solid {line}; padding: 2px 5px; selection-background-color: {line};
    selection-color: {text}; }}
QComboBox::drop-down {{ border: none; width: 18px; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 9px; height: 6px; }}
QTextBrowser {{ background: {field}; border: 1px solid {line}; padding: 8px; }}
QComboBox QAbstractItemView {{ background: {field}; border: 1px solid {line}; selection-background-color: {line}; }}
QCheckBox {{ background: transparent; spacing: 6px; }}
QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {quiet}; background: {field}; }}
QCheckBox::indicator:checked {{ background: {text}; }}
QCheckBox:focus {{ text-decoration: underline; }}
QSlider {{ background: transparent; min-height: 18px; }}
QSlider::groove:horizontal {{ height: 2px; background: {line}; }}
QSlider::sub-page:horizontal, QSlider::add-page:horizontal {{ background: {line}; height: 2px; }}
QSlider::handle:horizontal {{ width: 9px; margin: -7px 0; background: {text}; }}
QSlider:focus {{ border: 1px dotted {quiet}; }}
QSlider::groove:vertical {{ width: 3px; background: {line}; }}
QSlider::handle:vertical {{ height: 9px; margin: 0 -7px; background: {text}; }}
QSlider::add-page:vertical, QSlider::sub-page:vertical {{ background: {line}; width: 3px; }}
QTableWidget, QListWidget, QTreeWidget {{ background: transparent; border: 1px solid transparent;
    alternate-background-color: {chrome}; outline: none; }}
QTableWidget::item, QListWidget::item, QTreeWidget::item {{ padding: 2px 6px; border: none; }}
QTableWidget::item {{ padding: 2px 3px; }}
QTableWidget::item:selected, QListWidget::item:selected, QTreeWidget::item:selected {{
    background: {raised}; color: {text}; }}
QHeaderView {{ background: transparent; border: none; }}
QHeaderView::section {{ background: transparent; color: {quiet}; border: none; padding: 1px 3px;
    font-size: {small}pt; text-align: left; }}
QTableCornerButton::section {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 9px; }}
QScrollBar::handle:vertical {{ background: {line}; min-height: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; }}
QScrollBar::handle:horizontal {{ background: {line}; min-width: 24px; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QProgressBar {{ background: {field}; border: none; height: 4px; }}
QProgressBar::chunk {{ background: {quiet}; }}
QToolTip {{ background: {field}; color: {text}; border: 1px solid {line}; padding: 4px; }}
QMenu {{ background: {field}; border: 1px solid {line}; }}
QMenu::item:selected {{ background: {line}; }}
"""


def apply_room(app: QApplication, room: Room) -> None:
    """Dress the application for a room."""
    parts = {name: room.hex(name) for name in ("ribbon", "rack", "chrome", "raised", "field", "line", "text", "quiet")}
    app.setFont(font())
    side = "on-light" if room.chrome > 0x80 else "on-dark"
    parts["arrow"] = (resources.files("rehearsal") / "data" / "icons" / f"down-{side}.png").as_posix()  # type: ignore[attr-defined]
    app.setStyleSheet(_SHEET.format(family=FAMILY, small=SMALL, normal=NORMAL, large=LARGE, **parts))
