"""The function box as a picture: feeding shafts, sleeves, trains, clutches, outputs."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import arc_arrow, elided, pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.functions.arrange import Branch
from mild_badger.core.functions.describe import describe_motion, describe_speed
from mild_badger.core.functions.prove import INPUT, ONE_WAY, FunctionState
from mild_badger.core.functions.result import FunctionResult
from mild_badger.core.functions.table import drive_text
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.sleeves import column_of
from mild_badger.core.words import signed, word

__all__ = ["FunctionView"]

INPUT_X, ONE_WAY_X, SLEEVE_X, TRAIN_X = 74.0, 150.0, 186.0, 262.0
OUTPUT_WIDE = 236.0
LEAST_HIGH, MOST_HIGH, ROW_HIGH = 150, 190, 24


class FunctionView(Canvas):
    """Heavy is what carries power in the position and the motor's way that are shown."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.function-box"))
        self.setMinimumHeight(LEAST_HIGH)
        self.setMouseTracking(True)
        self.position, self.direction = "", 1
        self._spots: list[tuple[QRectF, str]] = []

    @staticmethod
    def _top(result: FunctionResult) -> float:
        """Height of what stands above the trains; the one-way shaft's clutches take room."""
        return 36.0 if result.arrangement.rectifier is None else 74.0

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show an evaluation; every train gets a row that can be read, as far as the page goes."""
        result = evaluation.functions
        rows = 0 if result is None else len(result.arrangement.branches)
        high = 0 if result is None else int(self._top(result) + 8 + rows * ROW_HIGH)
        self.setMinimumHeight(min(max(high, LEAST_HIGH), MOST_HIGH))
        super().show_evaluation(evaluation)

    def show_state(self, position: str, direction: int) -> None:
        """Show a position with the motor turning one way."""
        self.position, self.direction = position, direction
        self.setAccessibleDescription(shown(self.words()))
        self.update()

    def words(self) -> str:
        result = self.evaluation.functions if self.evaluation else None
        if result is None:
            return ""
        state = result.state(self.position, self.direction)
        if state is None:
            return result.words
        sentence = "; ".join(describe_speed(result.box, output) for output in state.outputs)
        return say(
            "tab-shift.motor-3",
            position=self.position,
            value="+" if self.direction > 0 else "−",
            sentence=sentence,
        )

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens, result = self.theme.tokens, evaluation.functions
        self._spots = []
        if result is None or not result.arrangement.branches:
            painter.setFont(text_font("lead"))
            painter.setPen(tokens.soft)
            words = (
                say("tab-shift.a-second-motor-can-drive-other-things-arms")
                if result is None
                else say("tab-shift.say-below-what-each-output-does-in-each")
            )
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(24, 8, -24, -8), int(flags), words)
            return
        state = result.state(self.position, self.direction)
        order = [output.id for output in result.box.outputs]
        branches = sorted(result.arrangement.branches, key=lambda b: order.index(b.output))
        top = self._top(result)
        bottom = self.height() - 8.0
        step = (bottom - top) / len(branches)
        rows = {b.key: top + (n + 0.5) * step for n, b in enumerate(branches)}
        self._feeds(painter, result, branches, rows)
        for branch in branches:
            self._branch(painter, branch, rows[branch.key], state)
        for identity in order:
            mine = [rows[b.key] for b in branches if b.output == identity]
            if mine:
                self._output(
                    painter, result, identity, span=(min(mine), max(mine)), state=state, step=step
                )

    def _feeds(
        self,
        painter: QPainter,
        result: FunctionResult,
        branches: list[Branch],
        rows: dict[str, float],
    ) -> None:
        """Draw the input shaft, the motor's way, and the one-way shaft with its two clutches."""
        tokens = self.theme.tokens
        low = max(rows.values())
        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(QLineF(INPUT_X, 26, INPUT_X, low))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(12, 18), say("tab-shift.motor-2"))
        label = say("tab-shift.letter-input", letter=result.letter(INPUT))
        painter.drawText(QPointF(INPUT_X - 20, 18), label)
        painter.setPen(pen(tokens.run, 1.6))
        middle = QPointF(28, 46)
        painter.drawLine(QLineF(middle.x(), middle.y(), INPUT_X, middle.y()))
        painter.setBrush(tokens.paper)
        painter.drawEllipse(middle, 10, 10)
        arc_arrow(painter, middle, 16, clockwise=self.direction > 0)
        painter.setFont(text_font("small", bold=True))
        painter.drawText(
            QRectF(18, 37, 20, 18),
            int(Qt.AlignmentFlag.AlignCenter),
            "+" if self.direction > 0 else "−",
        )
        if result.arrangement.rectifier is None:
            return
        ends = [rows[b.key] for b in branches if b.feed == "one-way"]
        painter.setPen(pen(tokens.run, 2.2))
        painter.drawLine(QLineF(ONE_WAY_X, 28, ONE_WAY_X, max([*ends, 60.0])))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        label = say("tab-shift.letter-one-way-shaft", letter=result.letter(ONE_WAY))
        painter.drawText(QPointF(ONE_WAY_X - 24, 18), label)
        for y, carries, words in (
            (
                36.0,
                self.direction > 0,
                say("tab-shift.one-way-clutch-on-the-input-carries-while-it"),
            ),
            (
                62.0,
                self.direction < 0,
                say("tab-shift.one-way-clutch-behind-a-reversing-mesh"),
            ),
        ):
            color = tokens.run if carries else tokens.soft
            painter.setPen(pen(color, 2.2 if carries else 1.2))
            painter.drawLine(QLineF(INPUT_X, y, ONE_WAY_X, y))
            self._clutch(painter, QPointF((INPUT_X + ONE_WAY_X) / 2, y), color, words)
        gears = result.arrangement.rectifier
        self._spots.append(
            (
                QRectF(INPUT_X, 28, ONE_WAY_X - INPUT_X, 44),
                say(
                    "tab-shift.gears-of-the-one-way-shaft",
                    direct=gears.direct,
                    reversing=gears.reversing,
                    counter=gears.counter,
                ),
            )
        )

    def _clutch(self, painter: QPainter, at: QPointF, color: QColor, words: str) -> None:
        painter.setPen(pen(color, 1.6))
        painter.setBrush(self.theme.tokens.paper)
        painter.drawPolygon(
            QPolygonF([at + QPointF(-6, -7), at + QPointF(6, 0), at + QPointF(-6, 7)])
        )
        painter.drawLine(at + QPointF(6, -7), at + QPointF(6, 7))
        self._spots.insert(0, (QRectF(at.x() - 9, at.y() - 9, 18, 18), words))

    def _branch(
        self, painter: QPainter, branch: Branch, y: float, state: FunctionState | None
    ) -> None:
        tokens = self.theme.tokens
        inside = state is not None and state.position in branch.positions
        speed = (
            next((o.speed for o in state.outputs if o.output == branch.output), None)
            if state is not None
            else None
        )
        carries = inside and bool(speed)
        color = tokens.run if carries else tokens.soft
        width = 2.2 if carries else 1.2
        right = self.width() - OUTPUT_WIDE - 16
        start = ONE_WAY_X if branch.feed == "one-way" else INPUT_X
        painter.setPen(pen(color, width))
        painter.drawLine(QLineF(start, y, right, y))
        painter.setBrush(tokens.ink)
        painter.drawEllipse(QPointF(start, y), 2.5, 2.5)
        if branch.sleeve is not None:
            box = QRectF(SLEEVE_X, y - 10, 62, 20)
            painter.setPen(pen(tokens.run if inside else tokens.ink, 2.2 if inside else 1.4))
            painter.setBrush(tokens.run_wash if inside else tokens.panel)
            painter.drawRoundedRect(box, 3, 3)
            painter.setFont(text_font("small"))
            painter.setPen(tokens.ink)
            words = f"{column_of(branch.sleeve)} {word(branch.face or '')}"
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)
            sentence = say(
                "tab-shift.sleeve-couples",
                column_of=column_of(branch.sleeve),
                face=branch.face,
                summary=branch.summary,
            )
            self._spots.append((box, sentence))
        room = right - TRAIN_X - 12 - (34 if branch.sense else 0)
        painter.setFont(text_font("small", bold=carries))
        text = elided(train_text(branch.train), painter.font(), room)
        label = QRectF(TRAIN_X, y - 8, painter.fontMetrics().horizontalAdvance(text) + 8, 16)
        painter.fillRect(label, tokens.paper)
        painter.setPen(tokens.run if carries else tokens.ink)
        painter.drawText(label, int(Qt.AlignmentFlag.AlignCenter), text)
        error = f"{signed(branch.error_percent, '+.1f')} %"
        tip = say(
            "tab-shift.turns-in-per-turn-out-wanted",
            summary=branch.summary,
            ratio=abs(float(branch.ratio)),
            wanted=abs(branch.wanted),
            error=error,
        )
        self._spots.append((label, tip))
        if branch.sense:
            way = "+" if branch.sense > 0 else "−"
            self._clutch(
                painter,
                QPointF(right - 18, y),
                color,
                say("tab-shift.one-way-clutch-drives-only", output=branch.output, way=way),
            )

    def _output(
        self,
        painter: QPainter,
        result: FunctionResult,
        identity: OutputId,
        *,
        span: tuple[float, float],
        state: FunctionState | None,
        step: float,
    ) -> None:
        tokens = self.theme.tokens
        named = result.box.output(identity)
        if named is None:
            return
        called = f"{result.output_letter(identity)} · {named.name}"
        half = min(step / 2 - 3, 24.0)
        box = QRectF(
            self.width() - OUTPUT_WIDE - 16,
            span[0] - half,
            OUTPUT_WIDE,
            span[1] - span[0] + 2 * half,
        )
        output = next((o for o in state.outputs if o.output == identity), None) if state else None
        runs = output is not None and bool(output.speed)
        wrong = output is not None and not output.right
        painter.setPen(
            pen(tokens.bad if wrong else tokens.run if runs else tokens.ink, 2.2 if runs else 1.4)
        )
        painter.setBrush(tokens.run_wash if runs else tokens.panel)
        painter.drawRoundedRect(box, 3, 3)
        inner = box.adjusted(10, 0, -8, 0)
        painter.setPen(tokens.run if runs else tokens.ink)
        font = figure_font("tab")
        painter.setFont(font)
        flag = Qt.AlignmentFlag
        sentence = drive_text(named) + (say("tab-shift.always-one-way") if named.one_way else "")
        if output is not None:
            sentence = describe_motion(result.box, output)
        if inner.height() < 34:  # both on one line
            wide = painter.fontMetrics().horizontalAdvance(called)
            left = int(flag.AlignLeft | flag.AlignVCenter)
            painter.drawText(inner, left, elided(called, font, inner.width() - 60))
            painter.setFont(text_font("small"))
            painter.setPen(tokens.ink)
            rest = inner.adjusted(min(wide, inner.width() - 60) + 8, 0, 0, 0)
            painter.drawText(rest, left, elided(sentence, painter.font(), rest.width()))
            return
        high = inner.adjusted(0, 0, 0, -inner.height() / 2 + 2)
        low = inner.adjusted(0, inner.height() / 2 - 1, 0, 0)
        painter.drawText(
            high, int(flag.AlignLeft | flag.AlignVCenter), elided(called, font, inner.width())
        )
        painter.setFont(text_font("small"))
        painter.setPen(tokens.ink)
        painter.drawText(
            low,
            int(flag.AlignLeft | flag.AlignVCenter),
            elided(sentence, painter.font(), inner.width()),
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for box, words in self._spots:
            if box.contains(event.position()):
                show_tip(event.globalPosition().toPoint(), words, self)
                return
