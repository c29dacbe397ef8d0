"""Every shortcut in one place; the page of keys (F1) is made from this list."""

from __future__ import annotations

from dataclasses import dataclass

from rehearsal.core.values.words import all_words


@dataclass(frozen=True)
class Key:
    """A shortcut: the key as Qt writes it, what it does, and the name of the action of the window."""

    key: str
    words: str
    action: str
    argument: object = None


#: What only changes how the pictures are looked at.
_LOOKING = ("large", "curtain", "fit", "grain", "print_size", "zoom", "soft", "hold")


#: Of these, the ways that Judge offers to the pointer as well.
WAYS = ("large", "curtain", "fit", "grain", "print_size", "soft", "hold")


def place_of(key: Key) -> str:
    """Where a key acts: ``anywhere``; ``looking``, everywhere but in a field and after one; ``pictures``, with the focus there.

    A letter pressed by mistake beside a field must open nothing and change no room.
    """
    if len(key.key) > 1:
        return "anywhere"
    return "looking" if key.action in _LOOKING else "pictures"


STATION_KEYS = tuple(
    Key(f"Ctrl+{i + 1}", f"station {name}", "go", i) for i, (name, _key) in enumerate(all_words("station"))
)
KEYS = (
    *STATION_KEYS,
    Key("Alt+1", "relative colorimetric, compensated", "intent", ("relative", True)),
    Key("Alt+2", "relative colorimetric, uncompensated", "intent", ("relative", False)),
    Key("Alt+3", "perceptual", "intent", ("perceptual", True)),
    Key("Alt+4", "saturation", "intent", ("saturation", True)),
    Key("Alt+5", "absolute colorimetric", "intent", ("absolute", False)),
    Key("Alt+6", "show fitted to the screen", "view", "fitted"),
    Key("Alt+7", "show with the black as printed", "view", "true-black"),
    Key("Alt+8", "show on paper", "view", "on-paper"),
    Key("Alt+9", "show on paper, bright", "view", "on-paper-bright"),
    Key("Alt+0", "show in its light", "view", "in-its-light"),
    Key("L", "side by side, or one large picture", "large"),
    Key("K", "curtain: drag the edge, or left and right", "curtain"),
    Key("F", "fit the pictures into the window", "fit"),
    Key("G", "one picture pixel per screen pixel", "grain"),
    Key("P", "as large as on paper", "print_size"),
    Key("+", "larger", "zoom", 1.25),
    Key("-", "smaller", "zoom", 0.8),
    Key("W", "soft look: judge tone without detail", "soft"),
    Key("H", "hold the picture at the paper's lightness, or full brightness", "hold"),
    Key("R", "dark, mid or light room", "room"),
    Key("F6", "larger type, from the next start", "type"),
    Key("T", "fold the tray to a line", "fold_tray"),
    Key("E", "fold or open the rack", "fold_rack"),
    Key("I", "rendering intents side by side, large", "board", "intents"),
    Key("O", "this picture on all papers", "board", "scout"),
    Key("Q", "shelf of print conditions", "board", "shelf"),
    Key("F7", "the card of the paper that is shown", "board", "card"),
    Key("C", "the reach: slices of the gamut with the picture's colours", "board", "reach"),
    Key("X", "two profiles of one paper", "board", "two"),
    Key("F5", "habits: what is done again", "board", "habits"),
    Key("F12", "takes of this picture, and the states of this one", "board", "takes"),
    Key("F11", "the page: sheet, borders, mat, several", "board", "page"),
    Key("Ctrl+P", "prints on their way", "board", "prints"),
    Key("Shift+T", "the test sheet: every field a live proof", "board", "test"),
    Key("Shift+P", "a small proof of the whole picture", "small_proof"),
    Key("F2", "check this screen", "board", "check"),
    Key("F3", "real size on this screen", "board", "size"),
    Key("Ctrl+L", "how bright the light on the prints is, also without a meter", "board", "light"),
    Key("U", "unconverted numbers: a warning", "unmanaged"),
    Key("V", "draw a line across the picture", "line"),
    Key("D", "keep the reading under the pointer as a pin", "pin"),
    Key("A", "as last time: settings of the last print on this paper, up to the ticket", "as_last"),
    Key("Ctrl+O", "open pictures or profiles", "open"),
    Key("Ctrl+T", "new take from this one", "duplicate"),
    Key("Ctrl+Z", "undo", "undo"),
    Key("Ctrl+Shift+Z", "redo", "redo"),
    Key("Ctrl+J", "judge again", "judge"),
    Key("Ctrl+Return", "write the print file", "write"),
    Key("Ctrl+Shift+T", "show the ticket", "ticket"),
    Key("?", "why this verdict", "why"),
    Key("F4", "the real sheet of the print, or a plain mount", "sheet"),
    Key("F1", "this list", "keys"),
    Key("Ctrl+Q", "close the window; it stands so again at the next start", "close"),
    Key("Esc", "close a board, go back to the chosen paper, end a comparison, stop the work, or fit", "escape"),
)
#: Keys that are held: pressed short they keep, pressed long they only show.
MAP_KEYS = {
    "B": ("beyond", "beyond the paper"),
    "M": ("moved", "moved by the print"),
    "N": ("screen", "beyond this screen"),
}
#: Keys that show something at Tune while they are held.
HOLD_KEYS = {
    "F8": "hold: the take untuned, on the same paper", "F9": "hold: the take without the chosen step",
    "F10": "hold: the take as it prints, with the steps for the light and what was learnt",
}  # fmt: skip


def key_groups() -> list[tuple[str, list[tuple[str, str]]]]:
    """All keys with their words, by where they belong, for the page of keys."""
    groups: dict[str, list[tuple[str, str]]] = {title: [] for title, _actions in _GROUPS}
    for key in KEYS:
        name = f"{key.action}:{key.argument}" if key.action == "board" else key.action
        title = next((t for t, actions in _GROUPS if name in actions or key.action in actions), _GROUPS[-1][0])
        groups[title].append((key.key, key.words))
    judge = groups["Judge"]
    judge += [(key, f"lines {words}; hold to see, press to keep") for key, (_kind, words) in MAP_KEYS.items()]
    groups["The pictures"] += [
        ("Space", "hold, while the pictures have the focus: the other one"),
        ("Arrows", "move the enlarged picture; at Picture the crop (with Ctrl: its size)"),
    ]
    groups["Tune"] += list(HOLD_KEYS.items())
    groups["Tune"] += [("Up, Down", "on the ladder: the chosen rung; Shift coarse, Page keys choose, Backspace zero")]
    groups["Everywhere"] += [
        (
            "Letters",
            "looking keys: everywhere but in a field and after it, until Esc or a press; all others at the pictures",
        )
    ]
    groups["Everywhere"] += [("Space, Enter", "press what has the focus"), ("Tab", "go to the next; Shift+Tab back")]
    return list(groups.items())


_GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Stations", ("go", "fold_tray", "fold_rack")),
    ("The pictures", (
        "large", "curtain", "fit", "grain", "print_size", "zoom", "soft", "hold", "sheet", "room", "type", "open", "duplicate",
    )),
    ("Screen", ("board:check", "board:size", "board:light")),
    ("Paper", ("board:scout", "board:shelf", "board:card", "board:reach", "board:two")),
    ("Judge", ("intent", "view", "board:intents", "unmanaged", "line", "pin", "judge", "why")),
    ("Tune", ("board:habits", "board:takes")),
    ("Test", ("board:test", "small_proof")),
    ("Sheet and log", ("board:page", "board:prints", "write", "ticket", "as_last")),
    ("Everywhere", ("undo", "redo", "keys", "escape")),
)  # fmt: skip
