"""The last seconds of both light gates, slot by slot, and the speeds they make."""

from collections.abc import Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.message import say

__all__ = ["PulseView"]

SHOWN_S = 4.0
EMPTY = say("tab-trial.start-a-run-each-line-is-a-slot-passing-its")
NAMES = (say("tab-trial.input"), "there")


class PulseView(Canvas):
    """Two tracks of pulses, newest at the right, with the speed written beside each."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-trial.pulses-of-the-two-light-gates"))
        self.setMinimumSize(320, 150)
        self.tracks: tuple[Sequence[int], Sequence[int]] = ((), ())
        self.speeds = ("", "")

    def show_pulses(
        self, tracks: tuple[Sequence[int], Sequence[int]], speeds: tuple[str, str]
    ) -> None:
        """Show time stamps in µs and what they come to."""
        self.tracks, self.speeds = tracks, speeds
        self.setAccessibleDescription(shown(self.words()))
        self.update()

    def words(self) -> str:
        return "; ".join(
            say(
                "tab-trial.pulses",
                name=name,
                count_of_track=len(track),
                speed=speed or say("tab-trial.no-speed-yet"),
            )
            for name, track, speed in zip(NAMES, self.tracks, self.speeds, strict=True)
        )

    def draw(self, painter: QPainter, _evaluation: object) -> None:
        if not any(self.tracks):
            self.say_instead(painter, EMPTY)
            return
        tokens = self.theme.tokens
        newest = max(track[-1] for track in self.tracks if track)
        left, right = 96.0, self.width() - 12.0
        scale = (right - left) / (SHOWN_S * 1e6)
        room = (self.height() - 26) / 2
        for number, (name, track, speed) in enumerate(
            zip(NAMES, self.tracks, self.speeds, strict=True)
        ):
            top = 8 + number * room
            low = top + room - 16
            color = tokens.ink if not number else tokens.run
            painter.setFont(text_font("small"))
            painter.setPen(tokens.soft)
            painter.drawText(QPointF(12, top + 14), name)
            painter.setFont(figure_font("lead"))
            painter.setPen(color)
            painter.drawText(
                QRectF(left, top, right - left, 20), int(Qt.AlignmentFlag.AlignLeft), speed
            )
            painter.setPen(pen(tokens.hair, 1))
            painter.drawLine(QPointF(left, low), QPointF(right, low))
            painter.setPen(pen(color, 1.2))
            lines = []
            for us in reversed(track):
                x = right - (newest - us) * scale
                if x < left:
                    break
                lines.append(QLineF(x, top + 26, x, low))
            for line in lines:
                painter.drawLine(line)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(left, self.height() - 6), say("tab-trial.s-ago", shown_s=SHOWN_S))
        painter.drawText(
            QRectF(right - 80, self.height() - 20, 80, 16),
            int(Qt.AlignmentFlag.AlignRight),
            say("tab-trial.now"),
        )
