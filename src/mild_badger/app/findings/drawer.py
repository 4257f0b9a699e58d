"""The findings drawer: what, how much, where, and the mend."""

from PyQt6.QtCore import QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.marks import finding_mark
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.words import word

__all__ = ["FindingsDrawer"]

WIDTH, NARROW = 268, 212


class _Mark(QWidget):
    def __init__(self, theme: Theme, severity: Severity) -> None:
        super().__init__()
        self._theme, self._severity = theme, severity
        self.setFixedSize(22, 22)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        finding_mark(painter, self._theme.tokens, self._severity, QPointF(11, 10), 8)


class WrappingLink(QAbstractButton):
    """Words to press, on as many lines as they need; ``quiet`` ones look like a heading."""

    def __init__(self, theme: Theme, words: str, *, quiet: bool = False) -> None:
        super().__init__()
        self._theme, self._quiet = theme, quiet
        self.setText(shown(words))
        self.setFont(text_font("text", bold=True))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def sizeHint(self) -> QSize:
        return QSize(120, self.heightForWidth(180))

    def minimumSizeHint(self) -> QSize:
        return QSize(60, 20)

    def heightForWidth(self, width: int) -> int:
        room = QRect(0, 0, max(width, 40), 1000)
        flags = int(Qt.TextFlag.TextWordWrap)
        return self.fontMetrics().boundingRect(room, flags, self.text()).height() + 6

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setPen(self._theme.tokens.ink if self._quiet else self._theme.tokens.run)
        font = self.font()
        font.setUnderline(self.underMouse() or self.hasFocus())
        painter.setFont(font)
        flags = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(self.rect(), int(flags), self.text())


class FindingCard(QFrame):
    """One finding."""

    def __init__(self, theme: Theme, finding: Finding) -> None:
        super().__init__()
        self.finding = finding
        outer = QHBoxLayout(self)
        outer.setContentsMargins(10, 8, 12, 6)
        outer.setSpacing(8)
        outer.addWidget(_Mark(theme, finding.severity), 0, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout()
        column.setSpacing(4)
        self.title = WrappingLink(theme, finding.title, quiet=True)
        self.title.setAccessibleName(shown(f"{word(finding.severity.value)}: {finding.title}"))
        kind = CATALOGUE.get(finding.code)
        if kind is not None and kind.tab:
            self.title.setToolTip(
                shown(say("findings.goes-to-where-this-is-seen-to", tab=kind.tab))
            )
        column.addWidget(self.title)
        text = caption(finding.text, "soft", wrap=True)
        text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(text)
        self.mend = None
        if finding.mend is not None:
            self.mend = WrappingLink(theme, finding.mend.label)
            self.mend.setToolTip(say("findings.does-this-now-undo-brings-it-back"))
            column.addWidget(self.mend)
        outer.addLayout(column, 1)
        self.ask = QToolButton()
        self.ask.setText("?")
        self.ask.setAutoRaise(True)
        self.ask.setFixedSize(22, 22)
        self.ask.setProperty("role", "link")
        self.ask.setAccessibleName(shown(say("findings.explain", title=finding.title)))
        self.ask.setToolTip(say("findings.opens-the-handbook-where-this-is-explained"))
        outer.addWidget(self.ask, 0, Qt.AlignmentFlag.AlignTop)


class FindingsDrawer(QFrame):
    """All findings, the worst first.

    Signals
    -------
    mend : an edit that mends a finding
    go : a finding whose place is to be shown
    ask : a finding that is to be explained
    """

    mend = pyqtSignal(object)
    go = pyqtSignal(object)
    ask = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.make_narrow(False)
        self._theme = theme
        self._shown: tuple[Finding, ...] | None = None
        self.cards: list[FindingCard] = []
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 10, 0, 0)
        outer.setSpacing(4)
        head = QHBoxLayout()
        head.setContentsMargins(12, 0, 12, 0)
        head.addWidget(caption(say("findings.findings"), "head"))
        head.addStretch(1)
        self.count: QLabel = caption("", "soft")
        head.addWidget(self.count)
        outer.addLayout(head)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        outer.addWidget(self._area, 1)

    def make_narrow(self, narrow: bool) -> None:
        """Leave more room to the tab on a small screen."""
        self.setFixedWidth(NARROW if narrow else WIDTH)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation's findings; nothing is rebuilt when they are the same."""
        if evaluation.findings == self._shown:
            return
        self._shown = evaluation.findings
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.cards = []
        for finding in evaluation.findings:
            card = FindingCard(self._theme, finding)
            card.title.clicked.connect(
                lambda _checked=False, finding=finding: self.go.emit(finding)
            )
            card.ask.clicked.connect(lambda _checked=False, finding=finding: self.ask.emit(finding))
            if card.mend is not None:
                card.mend.clicked.connect(
                    lambda _checked=False, edit=finding.mend: self.mend.emit(edit)
                )
            column.addWidget(card)
            line = QFrame()
            line.setFixedHeight(1)
            line.setObjectName("hair")
            column.addWidget(line)
            self.cards.append(card)
        if not evaluation.findings:
            calm = caption(
                say("findings.nothing-found-every-gear-drives-the-right"),
                "soft",
                wrap=True,
            )
            calm.setContentsMargins(14, 8, 14, 8)
            column.addWidget(calm)
        column.addStretch(1)
        self._area.setWidget(inner)
        self.count.setText(str(len(evaluation.findings)))
