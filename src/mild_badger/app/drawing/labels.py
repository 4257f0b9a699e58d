"""Where labels of a drawing stand: near what they name, clear of one another."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, pi, sin

from PyQt6.QtCore import QPointF, QRectF, QSizeF

__all__ = ["LabelAsk", "PlacedLabel", "place_labels"]

ANGLES = 16
STEP_PX, FARTHEST_PX = 8.0, 260.0
ASIDE_PX = 14.0
"""Beyond this from where a label would stand it needs a line to what it names."""


@dataclass(frozen=True)
class LabelAsk:
    """A label that is to be placed: what it names, how large it is, how near it may stand.

    ``first`` is where it would stand; without one it stands beside the anchor.
    """

    anchor: QPointF
    size: QSizeF
    near_px: float = 4.0
    first: QPointF | None = None


@dataclass(frozen=True)
class PlacedLabel:
    """Where a label stands, and whether a line leads to what it names."""

    box: QRectF
    led: bool


def place_labels(
    asks: Sequence[LabelAsk], room: QRectF, obstacles: Sequence[QRectF] = ()
) -> list[PlacedLabel | None]:
    """Place labels in their order, each where none before it stands.

    Obstacles are kept clear of where there is room for it. None for a label that finds no free
    place in the room at all.
    """
    taken: list[QRectF] = []
    made: list[PlacedLabel | None] = []
    for ask in asks:
        box = _placed(ask, room, taken, obstacles) or _placed(ask, room, taken, ())
        if box is None:
            made.append(None)
            continue
        taken.append(box)
        off = box.center() - (ask.first or ask.anchor)
        far = (off.x() ** 2 + off.y() ** 2) ** 0.5
        reach = ASIDE_PX + (0.0 if ask.first else ask.near_px + ask.size.width() / 2)
        made.append(PlacedLabel(box, far > reach))
    return made


def _placed(
    ask: LabelAsk, room: QRectF, taken: Sequence[QRectF], obstacles: Sequence[QRectF]
) -> QRectF | None:
    def free(box: QRectF) -> bool:
        return room.contains(box) and not any(box.intersects(o) for o in (*taken, *obstacles))

    if ask.first is not None and free(box := _about(ask.first, ask.size)):
        return box
    far = ask.near_px
    while far < FARTHEST_PX:
        for number in range(ANGLES):
            # to the right first, then round by turns up and down
            turn = (number + 1) // 2 * (2 * pi / ANGLES) * (-1 if number % 2 else 1)
            way = QPointF(cos(turn), sin(turn))
            out = QPointF(
                way.x() * (far + ask.size.width() / 2), way.y() * (far + ask.size.height() / 2)
            )
            if free(box := _about(ask.anchor + out, ask.size)):
                return box
        far += STEP_PX
    return None


def _about(middle: QPointF, size: QSizeF) -> QRectF:
    box = QRectF(QPointF(), size)
    box.moveCenter(middle)
    return box
