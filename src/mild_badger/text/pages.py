"""The tabs of the window and their pages: keys, and what each page is called."""

from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.message import say

__all__ = ["PAGES", "TABS"]

TABS: dict[str, str] = {
    "Vehicle": say("tab.vehicle"),
    "Ratios": say("tab.ratios"),
    "Shift": say("tab.shift"),
    "Layout": say("tab.layout"),
    "Axle": say("tab.axle"),
    "Road": say("tab.road"),
    "Trial": say("tab.trial"),
    "Workshop": say("tab.workshop"),
    "Machine": say("tab.machine"),
}
"""What every tab is called."""

PAGES: dict[str, dict[str, str]] = {
    "Vehicle": {"": ""},
    "Ratios": {
        "gear": say("text.one-gear"),
        "box": say("text.whole-box"),
        "compare": say("text.compare"),
    },
    "Shift": {
        "sleeves": say("text.sleeves"),
        "actuator": say("text.gate"),
        "table": say("text.shift-table"),
        "play": say("text.play"),
        "losses": say("text.losses"),
        "functions": say("text.functions"),
    },
    "Layout": {
        "train": say("text.engaged-train"),
        "whole": say("text.whole-box"),
        "stack": say("text.stack"),
        "frame": say("text.frame"),
        "seats": say("text.seats"),
        "proof": say("text.proof"),
        "space": say("text.in-space"),
        "functions": say("text.function-box"),
        "around": say("text.around-the-box"),
    },
    "Axle": {
        "turn": say("text.turn"),
        "drive": say("text.axles"),
        "lesson": say("text.how-it-works"),
        "steering": say("text.steering"),
        "room": say("text.clearance"),
        "line": say("text.shaft-line"),
    },
    "Road": {
        "speed": say("text.speed"),
        "pull": say("text.pull"),
        "losses": say("text.losses"),
        "motors": say("text.motors"),
        "drive": say("text.test-drive"),
        "versions": say("text.versions"),
    },
    "Trial": {
        "list": say("text.readings"),
        "tacho": say("text.tachometer"),
        "built": say("text.as-built"),
        "log": say("text.log"),
    },
    "Workshop": {
        "parts": say("text.parts"),
        "templates": say("text.templates"),
        "cut": say("text.cut-list"),
        "assembly": say("text.assembly"),
        "apart": say("text.take-apart"),
        "book": say("text.plan-book"),
    },
    "Machine": {
        mechanism.page.key: mechanism.title
        for mechanism in sorted(MECHANISMS, key=lambda mechanism: mechanism.page.place)
    },
}
"""Pages by tab and key; a tab of one page has one without a name."""
