"""The tabs of the window and their pages: keys, and what each page is called."""

from mild_badger.core.mechanisms.registry import MECHANISMS

__all__ = ["PAGES"]

PAGES: dict[str, dict[str, str]] = {
    "Vehicle": {"": ""},
    "Ratios": {"gear": "One gear", "box": "Whole box", "compare": "Compare"},
    "Shift": {
        "sleeves": "Sleeves",
        "actuator": "Gate",
        "table": "Shift table",
        "play": "Play",
        "losses": "Losses",
        "functions": "Functions",
    },
    "Layout": {
        "train": "Engaged train",
        "whole": "Whole box",
        "stack": "Stack",
        "frame": "Frame",
        "seats": "Seats",
    },
    "Axle": {
        "turn": "Turn",
        "drive": "Axles",
        "lesson": "How it works",
        "steering": "Steering",
        "room": "Clearance",
        "line": "Shaft line",
    },
    "Road": {
        "speed": "Speed",
        "pull": "Pull",
        "losses": "Losses",
        "motors": "Motors",
        "drive": "Test drive",
        "versions": "Versions",
    },
    "Trial": {"list": "Readings", "tacho": "Tachometer", "built": "As built", "log": "Log"},
    "Workshop": {
        "parts": "Parts",
        "templates": "Templates",
        "cut": "Cut list",
        "assembly": "Assembly",
        "apart": "Take apart",
        "book": "Plan book",
    },
    "Machine": {
        mechanism.page.key: mechanism.title
        for mechanism in sorted(MECHANISMS, key=lambda mechanism: mechanism.page.place)
    },
}
"""Pages by tab and key; a tab of one page has one without a name."""
