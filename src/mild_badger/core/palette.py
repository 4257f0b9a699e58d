"""Every colour once, for the screen, for paper and for the lines of a cutter."""

__all__ = ["CUTTER", "DARK", "LIGHT", "PAPER"]

LIGHT = {
    "sheet": "#F6F2E9",
    "panel": "#EFE9DC",
    "paper": "#FFFDF8",
    "ink": "#2B2A28",
    "soft": "#625D54",
    "hair": "#D5CCBB",
    "run": "#B6421B",
    "run_wash": "#FBEBE3",
    "back": "#2F5D8A",
    "good": "#3E6B48",
    "warn": "#8A6100",
    "bad": "#9B1C31",
}
"""The light sheet; ``soft`` and ``run`` are as dark as 4.5 : 1 on every ground asks."""
DARK = {
    "sheet": "#23221F",
    "panel": "#2C2A26",
    "paper": "#1B1A18",
    "ink": "#EDE7DA",
    "soft": "#B0A898",
    "hair": "#48443C",
    "run": "#F08A5D",
    "run_wash": "#3A2A22",
    "back": "#8DB8E2",
    "good": "#8CC199",
    "warn": "#E0B04C",
    "bad": "#F08497",
}
PAPER = {
    "ink": LIGHT["ink"],
    "soft": LIGHT["soft"],
    "run": LIGHT["run"],
    "back": LIGHT["back"],
    "hair": "#B9AE9A",
    "there": "#F3EEE3",
    "now": "#F6D9CC",
    "lower": "#D9D0BF",
    "cross": "#808080",
    "ruler": "#202020",
}
"""White paper: hairlines are darker than on the screen, washes tell parts of an assembly apart."""
CUTTER = {"cut": "#C00000", "engrave": "#0050A0", "mark": "#202020"}
"""Layers of a template, in the colours that cutters commonly tell lines apart by."""
