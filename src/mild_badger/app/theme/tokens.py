"""The colours of the sheet as the window has them, light and dark, and its sizes of type."""

from dataclasses import dataclass, fields

from PyQt6.QtGui import QColor

from mild_badger.core import palette

__all__ = ["DARK", "LIGHT", "SIZES", "Tokens", "contrast"]

SIZES = {"small": 11, "text": 12, "lead": 13, "tab": 16, "title": 20, "figure": 28}
"""Type sizes in px."""


@dataclass(frozen=True)
class Tokens:
    """Named colours."""

    sheet: QColor
    panel: QColor
    paper: QColor
    ink: QColor
    soft: QColor
    hair: QColor
    run: QColor
    run_wash: QColor
    back: QColor
    good: QColor
    warn: QColor
    bad: QColor

    def css(self) -> dict[str, str]:
        """Give the colours as ``#rrggbb`` by name."""
        return {field.name: getattr(self, field.name).name() for field in fields(self)}


def _tokens(**colors: str) -> Tokens:
    return Tokens(**{name: QColor(value) for name, value in colors.items()})


LIGHT = _tokens(**palette.LIGHT)
DARK = _tokens(**palette.DARK)


def contrast(one: QColor, other: QColor) -> float:
    """Contrast ratio of two colours after WCAG 2.1 (relative luminance, 1 to 21)."""

    def luminance(color: QColor) -> float:
        def linear(share: float) -> float:
            return share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4

        return (
            0.2126 * linear(color.redF())
            + 0.7152 * linear(color.greenF())
            + 0.0722 * linear(color.blueF())
        )

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)
