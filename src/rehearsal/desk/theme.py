"""Neutral chrome for dark, mid and light rooms; one shipped type family with tabular figures."""

from __future__ import annotations

import functools
from dataclasses import dataclass
from importlib import resources

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QImage, QPainter, QPalette, QPen
from PyQt6.QtWidgets import QApplication

from rehearsal.core.work.files import write_beside
from rehearsal.workbook.home import cache_home

FAMILY = "Inter"
_TYPE = "typeSize"
SMALL, NORMAL, LARGE = 8.6, 9.75, 10.9
#: Sizes of type to choose from.
TYPE_SIZES = (1.0, 1.15, 1.3)
#: Least height of what is pressed, in pixels at the usual type (WCAG 2.2, 2.5.8).
TARGET = 24


@dataclass(frozen=True)
class Room:
    """Grey levels (0 to 255, R = G = B) of one room tone.

    ``border`` and ``mark`` stand out 3 : 1 from what they lie on, ``text`` and ``quiet`` 4.5 : 1 (WCAG 2.1, 1.4.3 and 1.4.11).
    ``on_surround`` is text on the surround, ``light`` the ground of the one button that is advised, with ``on_light`` on it.
    """

    name: str
    ribbon: int
    rack: int
    chrome: int
    raised: int
    field: int
    surround: int
    line: int
    border: int
    mark: int
    text: int
    quiet: int
    on_surround: int
    light: int
    on_light: int

    def colour(self, part: str) -> QColor:
        """A part's grey."""
        level = getattr(self, part)
        return QColor(level, level, level)

    def hex(self, part: str) -> str:
        """A part's grey for style sheets."""
        return self.colour(part).name()

    @property
    def lightest(self) -> int:
        """The lightest grey anything is drawn in."""
        return max(getattr(self, f) for f in _LEVELS)

    @property
    def is_light(self) -> bool:
        """True for dark letters on light ground."""
        return self.chrome > 0x80

    def under(self, paper: int) -> Room:
        """The same room with nothing lighter than a paper of that level beside it.

        Grounds and letters are brought down together; where 4.5 : 1 cannot hold any more, letters stand in the paper's grey on black.
        """
        levels = {f: getattr(self, f) for f in _LEVELS}
        if max(levels.values()) <= paper:
            return self
        if paper < _BLACK_BELOW:
            grounds = dict.fromkeys(_GROUNDS, 0) | {"surround": min(self.surround, paper // 4), "raised": paper // 8}
            marks = dict.fromkeys(("text", "quiet", "on_surround", "border", "mark", "light", "on_light"), paper)
            return _with(self, grounds | marks | {"line": paper // 2, "on_light": 0})
        if self.is_light:
            return _dark_letters(self, levels, paper)
        lit = {f: min(v, paper) for f, v in levels.items()}
        return _light_letters(self, lit, paper)


_GROUNDS = ("ribbon", "rack", "chrome", "raised", "field", "surround")
_LEVELS = (*_GROUNDS, "line", "border", "mark", "text", "quiet", "on_surround", "light", "on_light")
#: Below this level no letters in a paper's grey have 4.5 : 1 on any ground but black (and hardly there).
_BLACK_BELOW = 117
_TEXT, _STATE = 4.5, 3.0


def _with(room: Room, levels: dict[str, int]) -> Room:
    return Room(name=room.name, **levels)


def luminance(level: float) -> float:
    """Relative luminance of a grey (IEC 61966-2-1)."""
    v = level / 255
    return float(v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4)


def contrast(one: float, two: float) -> float:
    """Contrast of two greys (WCAG 2.1: (L1 + 0.05) / (L2 + 0.05))."""
    high, low = sorted((luminance(one), luminance(two)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def _light_letters(room: Room, lit: dict[str, int], paper: int) -> Room:
    """Grounds darkened until the quietest letters and the borders stand out from the lightest ground they lie on."""
    lit["quiet"] = max(lit["quiet"], round(paper * 0.9))
    for share in (s / 100 for s in range(100, -1, -4)):
        grounds = {g: round(lit[g] * share) for g in _GROUNDS}
        worst = max(v for g, v in grounds.items() if g != "surround")
        held = contrast(lit["quiet"], worst) >= _TEXT and contrast(lit["on_surround"], grounds["surround"]) >= _TEXT
        if held and contrast(min(lit["border"], lit["mark"]), worst) >= _STATE:
            break
    lit["on_light"] = lit["on_light"] if contrast(lit["on_light"], lit["light"]) >= _TEXT else 0
    return _with(room, lit | grounds)


def _dark_letters(room: Room, levels: dict[str, int], paper: int) -> Room:
    """Grounds brought under the paper, and nearer to each other until the letters, darkened as far as needed, stand out."""
    most = max(levels[g] for g in _GROUNDS)
    marks = ("text", "quiet", "border", "mark", "on_surround")
    made: dict[str, int] = {}
    for apart in (s / 100 for s in range(100, -1, -4)):
        grounds = {g: round(paper * (1 - apart * (1 - levels[g] / most))) for g in _GROUNDS}
        lowest = min(grounds.values())
        for share in (s / 100 for s in range(100, -1, -10)):
            made = grounds | {m: round(levels[m] * share) for m in marks}
            letters = max(made[m] for m in ("text", "quiet", "on_surround"))
            if contrast(letters, lowest) >= _TEXT and contrast(max(made["border"], made["mark"]), lowest) >= _STATE:
                break
        else:
            continue
        break
    made |= {"line": min(levels["line"], paper), "on_light": min(levels["on_light"], paper)}
    made["light"] = levels["light"] if contrast(levels["light"], made["on_light"]) >= _TEXT else 0
    return _with(room, made)


ROOMS = {
    "dark": Room(
        name="dark", ribbon=0x1C, rack=0x22, chrome=0x28, raised=0x36, field=0x1A, surround=0x38, line=0x4A, border=0x86,
        mark=0x98, text=0xDC, quiet=0xB8, on_surround=0xDC, light=0xDC, on_light=0x10,
    ),
    "mid": Room(
        name="mid", ribbon=0x33, rack=0x3B, chrome=0x42, raised=0x52, field=0x2E, surround=0x6B, line=0x5C, border=0xA4,
        mark=0xA8, text=0xEC, quiet=0xCF, on_surround=0xEC, light=0xEC, on_light=0x1A,
    ),
    "light": Room(
        name="light", ribbon=0xC4, rack=0xCC, chrome=0xD4, raised=0xE4, field=0xF0, surround=0xA8, line=0xB4, border=0x6A,
        mark=0x62, text=0x16, quiet=0x30, on_surround=0x10, light=0x2A, on_light=0xF0,
    ),
}  # fmt: skip


def load_fonts() -> None:
    """Register the shipped family."""
    folder = resources.files("rehearsal") / "data" / "fonts"
    for name in ("Inter-Regular.otf", "Inter-SemiBold.otf"):
        QFontDatabase.addApplicationFontFromData((folder / name).read_bytes())


def font(points: float = NORMAL, strong: bool = False) -> QFont:
    """The interface's font with tabular figures."""
    made = QFont(FAMILY)
    made.setPointSizeF(points * type_size())
    made.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
    made.setFeature(QFont.Tag(b"tnum"), 1)
    return made


#: Height of a line of normal type at 96 dots per inch, which all sizes in pixels are drawn for.
_LINE = 15.75


def px(length: float) -> int:
    """A length in pixels, grown with the type: larger letters need larger places."""
    return round(length * growth())


def growth() -> float:
    """How much taller a line of normal type is than at 96 dots per inch."""
    return 1.0 if QApplication.instance() is None else _growth(type_size())


@functools.cache
def _growth(_size: float) -> float:
    """Asked for at every length: the metrics of the type are read once."""
    return max(1.0, QFontMetricsF(font()).height() / _LINE)


def type_size() -> float:
    """The size of type the user wants, 1 for the usual one; the application carries it."""
    app = QApplication.instance()
    return float((None if app is None else app.property(_TYPE)) or 1.0)


def set_type_size(app: QApplication, size: float) -> None:
    """Before the window is made: all sizes follow it."""
    app.setProperty(_TYPE, size)
    app.setFont(font())


_SHEET = """
* {{ font-family: "{family}"; font-size: {normal}pt; color: {text}; }}
QMainWindow, QDialog, QWidget#desk {{ background: {chrome}; }}
QWidget#tray {{ background: {chrome}; }}
QWidget#message {{ background: {field}; }}
QWidget#verdict {{ background: {ribbon}; }}
QWidget#ribbon {{ background: {ribbon}; }}
QWidget#rack {{ background: {rack}; border-right: 1px solid {border}; }}
QLabel {{ background: transparent; }}
QLabel[quiet="true"] {{ color: {quiet}; font-size: {small}pt; }}
QLabel[surround="true"] {{ color: {on_surround}; }}
QLabel[heading="true"] {{ font-weight: 600; }}
QLabel[key="true"] {{ border: 1px solid {border}; background: {field}; padding: 1px 6px; font-size: {small}pt; }}
QLabel[sentence="true"] {{ font-size: {large}pt; }}
QPushButton, QToolButton {{ background: {raised}; border: 1px solid {border}; padding: 2px 9px; text-align: left;
    min-height: {target}px; }}
QPushButton:hover, QToolButton:hover {{ border-color: {text}; }}
QPushButton:focus, QToolButton:focus, QComboBox:focus, QAbstractSpinBox:focus, QLineEdit:focus,
QPlainTextEdit:focus, QTableWidget:focus, QListWidget:focus, QTreeWidget:focus {{ border: 1px solid {text}; }}
QPushButton:focus {{ outline: none; border: 2px dotted {text}; padding: 1px 8px; }}
QPushButton:checked {{ border: 1px solid {text}; border-left: 4px solid {text}; padding-left: 6px; }}
QPushButton:checked:focus {{ border: 2px dotted {text}; border-left: 4px solid {text}; padding: 1px 8px 1px 6px; }}
QPushButton:disabled, QComboBox:disabled, QAbstractSpinBox:disabled {{ color: {border}; border-color: {line}; }}
QPushButton[advice="true"] {{ background: {light}; border: 1px solid {light}; color: {on_light}; }}
QPushButton[advice="true"]:focus {{ border: 2px dotted {on_light}; }}
QPushButton[link="true"] {{ background: transparent; border: none; text-decoration: underline; padding: 0 2px;
    min-height: {target_height}px; }}
QPushButton[large="true"] {{ min-height: {large_height}px; }}
QPushButton[link="true"]:focus {{ border: 1px dotted {text}; padding: 0 1px; }}
QPushButton[page="true"] {{ background: transparent; border: none; color: {quiet}; padding: 0 3px;
    min-height: {target_height}px; font-weight: 600; }}
QPushButton[page="true"]:checked {{ color: {text}; border: none; background: transparent; padding: 0 3px;
    border-bottom: 2px solid {text}; }}
QPushButton[page="true"]:focus {{ border: 1px dotted {text}; border-bottom: 2px solid {text}; }}
QFrame#mending {{ background: {chrome}; border: 1px solid {border}; }}
QWidget#board {{ background: {chrome}; }}
QCheckBox {{ background: transparent; spacing: 6px; min-height: {inside}px; border: 1px solid transparent; }}
QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {border}; background: {field}; }}
QCheckBox::indicator:checked {{ image: url({tick}); border: 1px solid {text}; }}
QCheckBox:focus {{ border: 1px dotted {text}; }}
QComboBox, QAbstractSpinBox, QLineEdit, QPlainTextEdit {{
    background: {field}; border: 1px solid {border}; padding: 1px 5px; selection-background-color: {border};
    selection-color: {field}; min-height: {field_height}px; }}
QComboBox::drop-down {{ border: none; width: 18px; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 11px; height: 11px; }}
QTextBrowser {{ background: {field}; border: 1px solid {border}; padding: 8px; }}
QComboBox QAbstractItemView {{ background: {field}; border: 1px solid {border}; selection-background-color: {raised};
    selection-color: {text}; }}
QSlider {{ background: transparent; border: 1px solid transparent; }}
QSlider:horizontal {{ min-height: {inside}px; }}
QSlider:vertical {{ min-width: {inside}px; }}
QSlider::groove:horizontal {{ height: 2px; background: {border}; }}
QSlider::sub-page:horizontal, QSlider::add-page:horizontal {{ background: {border}; height: 2px; }}
QSlider::handle:horizontal {{ width: 9px; margin: -7px 0; background: {text}; }}
QSlider:focus {{ border: 1px dotted {text}; }}
QSlider::groove:vertical {{ width: 3px; background: {border}; }}
QSlider::handle:vertical {{ height: 9px; margin: 0 -7px; background: {text}; }}
QSlider::add-page:vertical, QSlider::sub-page:vertical {{ background: {border}; width: 3px; }}
QTableWidget, QListWidget, QTreeWidget {{ background: transparent; border: 1px solid transparent;
    alternate-background-color: {chrome}; outline: none; }}
QTableWidget::item, QListWidget::item, QTreeWidget::item {{ padding: 2px 6px; border: none; }}
QTableWidget::item {{ padding: 2px 3px; }}
QTableWidget::item:selected, QListWidget::item:selected, QTreeWidget::item:selected {{
    background: {raised}; color: {text}; }}
QTreeView, QListView, QTableView {{ background: {field}; }}
QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
QFileDialog QToolButton {{ background: {border}; border: 1px solid {border}; min-width: 20px; min-height: 20px; }}
QFileDialog QToolButton:focus {{ border: 2px dotted {text}; }}
QTableWidget, QListWidget, QTreeWidget {{ background: transparent; }}
QHeaderView {{ background: transparent; border: none; }}
QHeaderView::section {{ background: transparent; color: {quiet}; border: none; padding: 1px 3px;
    font-size: {small}pt; text-align: left; }}
QTableCornerButton::section {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 9px; }}
QScrollBar::handle:vertical {{ background: {border}; min-height: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; }}
QScrollBar::handle:horizontal {{ background: {border}; min-width: 24px; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QProgressBar {{ background: {raised}; border: 1px solid {border}; height: 6px; }}
QProgressBar::chunk {{ background: {text}; }}
QToolTip {{ background: {field}; color: {text}; border: 1px solid {border}; padding: 4px; }}
QMenu {{ background: {field}; border: 1px solid {border}; }}
QMenu::item {{ padding: 4px 14px; }}
QMenu::item:selected {{ background: {raised}; }}
"""


def palette(room: Room) -> QPalette:
    """For what no style sheet reaches: file dialogs, placeholders, disabled words."""
    made = QPalette()
    roles = QPalette.ColorRole
    for role, part in (
        (roles.Window, "chrome"), (roles.Base, "field"), (roles.AlternateBase, "field"), (roles.Button, "raised"),
        (roles.Text, "text"), (roles.WindowText, "text"), (roles.ButtonText, "text"), (roles.BrightText, "text"),
        (roles.ToolTipBase, "field"), (roles.ToolTipText, "text"), (roles.PlaceholderText, "quiet"),
        (roles.Highlight, "raised"), (roles.HighlightedText, "text"), (roles.Link, "text"), (roles.LinkVisited, "text"),
        (roles.Light, "raised"), (roles.Midlight, "raised"), (roles.Mid, "border"), (roles.Dark, "line"), (roles.Shadow, "field"),
    ):  # fmt: skip
        made.setColor(role, room.colour(part))
    return made


def apply_room(app: QApplication, room: Room) -> None:
    """Dress the application for a room: what no part of the window dresses for itself."""
    app.setFont(font())
    app.setPalette(palette(room))
    if app.styleSheet() != sheet(room):  # it is costly: everything there is is dressed anew
        app.setStyleSheet(sheet(room))


#: Strokes of the little drawings, in a box of 13 × 13.
_STROKES = {"down": ((2.0, 4.5), (6.5, 9.0), (11.0, 4.5)), "tick": ((2.5, 7.0), (5.2, 10.0), (10.5, 3.0))}


def _cannot() -> None:
    raise OSError("the drawing cannot be written")


def _icon(name: str, level: int) -> str:
    """File of a little drawing in a grey: style sheets take drawings from files alone. Empty where none can be kept."""
    path = cache_home() / "icons" / f"{name}-{level}.png"
    if not path.exists():
        image = QImage(26, 26, QImage.Format.Format_ARGB32)
        image.setDevicePixelRatio(2)
        image.fill(0)
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(level, level, level), 1.7))
        painter.drawPolyline([QPointF(x, y) for x, y in _STROKES[name]])
        painter.end()
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            write_beside(path, lambda name: None if image.save(name) else _cannot())
        except OSError:
            return ""
    return path.as_posix()


@functools.cache
def _sheet(room: Room, size: float, target: int) -> str:
    return _SHEET.format(
        family=FAMILY, small=SMALL * size, normal=NORMAL * size, large=LARGE * size, target=target - 6,
        field_height=target - 4, inside=target - 2, target_height=target, large_height=round(target * 1.5),
        arrow=_icon("down", room.quiet), tick=_icon("tick", room.text),
        **{name: room.hex(name) for name in _LEVELS},
    )  # fmt: skip


def sheet(room: Room) -> str:
    """The style sheet of a room."""
    return _sheet(room, type_size(), px(TARGET))
