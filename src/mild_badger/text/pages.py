"""The tabs of the window and their pages: keys, and what each page is called."""

from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.message import say

__all__ = ["PAGES"]

PAGES: dict[str, dict[str, str]] = {
    "Vehicle": {"": ""},
    "Ratios": {"gear": say("text.one-gear"), "box": say("text.whole-box"), "compare": "Compare"},
    "Shift": {
        "sleeves": "Sleeves",
        "actuator": "Gate",
        "table": say("text.shift-table"),
        "play": "Play",
        "losses": "Losses",
        "functions": "Functions",
    },
    "Layout": {
        "train": say("text.engaged-train"),
        "whole": say("text.whole-box"),
        "stack": "Stack",
        "frame": "Frame",
        "seats": "Seats",
    },
    "Axle": {
        "turn": "Turn",
        "drive": "Axles",
        "lesson": say("text.how-it-works"),
        "steering": "Steering",
        "room": "Clearance",
        "line": say("text.shaft-line"),
    },
    "Road": {
        "speed": "Speed",
        "pull": "Pull",
        "losses": "Losses",
        "motors": "Motors",
        "drive": say("text.test-drive"),
        "versions": "Versions",
    },
    "Trial": {
        "list": "Readings",
        "tacho": "Tachometer",
        "built": say("text.as-built"),
        "log": "Log",
    },
    "Workshop": {
        "parts": "Parts",
        "templates": "Templates",
        "cut": say("text.cut-list"),
        "assembly": "Assembly",
        "apart": say("text.take-apart"),
        "book": say("text.plan-book"),
    },
    "Machine": {
        mechanism.page.key: mechanism.title
        for mechanism in sorted(MECHANISMS, key=lambda mechanism: mechanism.page.place)
    },
}
"""Pages by tab and key; a tab of one page has one without a name."""
