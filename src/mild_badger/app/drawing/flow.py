"""A row that goes on below where it finds no more room: for buttons and short fields."""

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QSpacerItem, QWidget

__all__ = ["Flow"]


class Flow(QLayout):
    """Lays widgets from left to right, as wide as they want to be, in as many rows as it takes.

    A widget that was added with a stretch takes what is left of its row.
    """

    def __init__(self, spacing: int = 8) -> None:
        super().__init__()
        self._items: list[tuple[QLayoutItem, int]] = []
        self._stretch = 0
        self._heights: dict[int, int] = {}
        self._sizes: dict[str, QSize] = {}
        self.setSpacing(spacing)
        self.setContentsMargins(0, 0, 0, 0)

    def addWidget(self, widget: QWidget | None, stretch: int = 0) -> None:
        self._stretch = stretch
        super().addWidget(widget)
        self._stretch = 0

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append((item, self._stretch))

    def addSpacing(self, size: int) -> None:
        """Leave room before what follows in its row."""
        self.addItem(QSpacerItem(size, 0))

    def addStretch(self, _stretch: int = 0) -> None:
        """Keep what was added to the left, as it is anyway."""

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index][0] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index)[0] if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def invalidate(self) -> None:
        self._heights.clear()
        self._sizes.clear()
        super().invalidate()

    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:  # it is asked for many times over while a page is laid out
            self._heights[width] = self._lay(QRect(0, 0, width, 0), place=False)
        return self._heights[width]

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, place=True)

    def sizeHint(self) -> QSize:
        if "hint" not in self._sizes:
            self._sizes["hint"] = self._hint()
        return self._sizes["hint"]

    def _hint(self) -> QSize:
        shown = [item.sizeHint() for item, _ in self._items if not item.isEmpty() or _gap(item)]
        wide = sum(size.width() for size in shown) + self.spacing() * max(len(shown) - 1, 0)
        return QSize(wide, max((size.height() for size in shown), default=0))

    def minimumSize(self) -> QSize:
        if "least" not in self._sizes:
            self._sizes["least"] = self._least()
        return self._sizes["least"]

    def _least(self) -> QSize:
        least = [item.minimumSize() for item, _ in self._items if not item.isEmpty()]
        return QSize(
            max((size.width() for size in least), default=0),
            max((size.height() for size in least), default=0),
        )

    def _lay(self, rect: QRect, *, place: bool) -> int:
        """Fill row after row; give the height that they take."""
        rows: list[list[tuple[QLayoutItem, int, QSize]]] = [[]]
        left = 0
        for item, stretch in self._items:
            if item.isEmpty() and not _gap(item):
                continue
            size = item.sizeHint()
            if rows[-1] and left + size.width() > rect.width():
                rows.append([])
                left = 0
            rows[-1].append((item, stretch, size))
            left += size.width() + self.spacing()
        y = rect.y()
        for row in rows:
            high = max((size.height() for *_, size in row), default=0)
            if place:
                self._place(row, QRect(rect.x(), y, rect.width(), high))
            y += high + (self.spacing() if high else 0)
        return max(y - rect.y() - self.spacing(), 0)

    def _place(self, row: list[tuple[QLayoutItem, int, QSize]], rect: QRect) -> None:
        taken = sum(size.width() for *_, size in row) + self.spacing() * (len(row) - 1)
        shares = sum(stretch for _, stretch, _ in row)
        spare = max(rect.width() - taken, 0)
        x = rect.x()
        for item, stretch, size in row:
            wide = size.width() + (spare * stretch // shares if shares and stretch else 0)
            wide = min(wide, rect.width())
            at = QPoint(x, rect.y() + (rect.height() - size.height()) // 2)
            item.setGeometry(QRect(at, QSize(wide, size.height())))
            x += wide + self.spacing()


def _gap(item: QLayoutItem) -> bool:
    return item.spacerItem() is not None
