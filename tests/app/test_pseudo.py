"""In a made-up language that is 40 % longer every page still shows all its words."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from clipped import SIZES, every_page, faults, painted_cut
from examples import example_vehicle
from mild_badger.app.shown import Painter
from mild_badger.app.window import Window
from mild_badger.text.pseudo import LONGER, pseudo

OpenWindow = Callable[..., Window]


@pytest.mark.parametrize(
    ("demo", "sizes"),
    [("larkholm-timber-tractor", SIZES[:1]), ("larkholm-crane-truck", SIZES[-1:])],
)
def test_no_words_are_cut_off_or_lie_over_others(
    demo: str,
    sizes: tuple[tuple[int, int], ...],
    open_window: OpenWindow,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr("mild_badger.app.shown._PSEUDO", True)
    vehicle = example_vehicle(demo)
    window = open_window(vehicle)
    window.session.engage(vehicle.real.gears[0].id)
    wrong = []
    for size in sizes:
        window.resize(*size)
        with painted_cut() as cut:
            for page in every_page(window):
                wrong += [f"{size[0]} {page}: {fault}" for fault in faults(window)]
        wrong += [f"{size[0]}: painted {words!r}" for words in cut]
    assert not wrong, "\n".join(wrong)


class Words(QWidget):
    """Paints words where there is room for them, nearly none, and none."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.drawText(QPointF(100, 20), "ten teeth")
        painter.drawText(QRectF(0, 20, 110, 20), 0, "twenty-eight teeth")
        painter.drawText(QRectF(0, 40, 30, 20), 0, "thirty-two teeth")
        painter.end()


def test_painted_words_move_shrink_and_are_cut_last_of_all(qtbot: QtBot) -> None:
    picture = Words()
    qtbot.addWidget(picture)
    picture.resize(120, 60)
    with painted_cut() as cut:
        picture.grab()
    assert cut == ["thirty-two teeth"]


def test_a_cut_word_is_found(open_window: OpenWindow) -> None:
    window = open_window()
    assert faults(window) == []
    window.units_button.setFixedWidth(20)
    assert any("Units" in fault for fault in faults(window))


@pytest.mark.parametrize("text", ["Add clutch", "Wheel ø, mm", "&File", "The stack is too long."])
def test_the_made_up_language_is_longer_accented_and_marked(text: str) -> None:
    made = pseudo(text)
    assert made.startswith("⟦")
    assert made.endswith("⟧")
    assert len(made) >= round(len(text) * (1 + LONGER))
    assert not set(made) & set("AaEeOoUu")
    assert ("&" in made) == ("&" in text)
    assert pseudo(made) == made


@pytest.mark.parametrize("text", ["", "12.3", "R", "6 %", "→"])
def test_figures_and_single_letters_stay(text: str) -> None:
    assert pseudo(text) == text
