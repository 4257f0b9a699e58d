"""Drawings say in words what they show, keep it to scale, and repaint only what changed."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.drawing.pictures import train_picture
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.train_view import TrainView
from mild_badger.app.findings.drawer import WrappingLink
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.message import say
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from telling import tells


@pytest.fixture
def theme(one_theme: Theme) -> Theme:
    return one_theme


def shown(theme: Theme, gear: str, *, detailed: bool = False) -> TrainView:
    view = TrainView(theme, detailed=detailed)
    view.resize(600, 500)
    evaluation = evaluate(example_vehicle(), Situation(gear=gear))
    view.show_picture(train_picture(evaluation, evaluation.engaged))
    view.grab()
    return view


def test_a_train_is_drawn_to_scale(qtbot: QtBot, theme: Theme) -> None:
    view = shown(theme, "5", detailed=True)
    qtbot.addWidget(view)
    words = view.words().split("; ")
    assert [w.split(",")[0] for w in words] == ["16 teeth"] * 3
    assert tells(
        words[0], "drawing.teeth-shaft-at-u-layer-turns-per-turn-of-the", teeth="16", words="+1.000"
    )  # the rail's third shaft
    # hovering along the row of shafts meets each gear over 2 u of pitch diameter
    picture = view.grab().toImage()
    middle = [x for x in range(600) if "shaft 1 at" in view.words_at(QPointF(x, 235))]
    second = [x for x in range(600) if "shaft 2 at" in view.words_at(QPointF(x, 235))]
    assert abs(len(middle) - len(second)) <= 22
    assert middle[-1] - middle[0] == pytest.approx(second[-1] - second[0], abs=24)
    assert picture.width() == 600


def test_the_picture_is_kept_until_it_changes(qtbot: QtBot, theme: Theme) -> None:
    view = shown(theme, "3")
    qtbot.addWidget(view)
    kept = view._drawn
    evaluation = evaluate(example_vehicle(), Situation(gear="3"))
    view.show_picture(train_picture(evaluation, evaluation.engaged))
    view.grab()
    assert view._drawn is kept
    view.resize(500, 500)
    view.grab()
    assert view._drawn is not kept


def test_a_train_without_a_place_says_why(qtbot: QtBot, theme: Theme) -> None:
    bus = apply_edit(
        example_vehicle(), set_train(example_vehicle(), "3", (GearPair(driver=8, driven=12),))
    )
    evaluation = evaluate(bus, Situation(gear="3"))
    view = TrainView(theme)
    qtbot.addWidget(view)
    view.show_picture(train_picture(evaluation, evaluation.engaged))
    assert tells(
        view.words(), "layout.with-do-not-mesh-on-the-grid-an-idler", teeth="8", teeth_2="12"
    )
    empty = apply_edit(bus, set_train(bus, "3", ()))
    evaluation = evaluate(empty, Situation(gear="3"))
    view.show_picture(train_picture(evaluation, evaluation.engaged))
    assert say("gear_column.no-train-yet") in view.words()


def test_reverse_is_drawn_in_its_own_colour(qtbot: QtBot, theme: Theme) -> None:
    def colors(gear: str) -> set[str]:
        view = shown(theme, gear)
        qtbot.addWidget(view)
        image = QImage(view.grab().toImage())
        return {
            QColor(image.pixel(x, y)).name()
            for x in range(0, image.width(), 2)
            for y in range(0, image.height(), 2)
        }

    assert theme.tokens.run.name() in colors("3")
    assert theme.tokens.back.name() in colors("R")
    assert theme.tokens.run.name() not in colors("R")


def test_the_ladder_and_the_plan_say_what_they_show(
    qtbot: QtBot, window: Window, press: Callable[..., None]
) -> None:
    tab = window.tab
    assert isinstance(tab, VehicleTab)
    assert say(
        "tab-vehicle.gear-model-real-vehicle", name="6", got="105.8 km/h", real="104.0 km/h"
    ) in plain(tab.ladder.words())
    window.show_tab("Axle")
    axle = window.tab
    assert isinstance(axle, AxleTab)
    qtbot.mouseClick(axle.turn_page.roads["lift left"], Qt.MouseButton.LeftButton)
    assert tells(axle.turn_page.plan.accessibleDescription(), "evaluate.wheel-lifted", side="left")
    assert "solid" not in axle.turn_page.plan.accessibleDescription()
    assert not axle.turn_page.plan.grab().isNull()
    window.session.do(Edit.one("x", ("differential", "kind"), "locked"))
    assert axle.turn_page.plan.accessibleDescription() == "solid axle, left wheel lifted"
    assert not axle.turn_page.lock.isEnabled()


def test_a_table_fills_only_what_changed(qtbot: QtBot, theme: Theme) -> None:
    table = Table(("a", "b"), "Test")
    qtbot.addWidget(table)
    table.show_cells([[Cell("1"), Cell("x", editable=True)]])
    first, second = table.item(0, 0), table.item(0, 1)
    assert first is not None
    assert second is not None
    assert not first.flags() & Qt.ItemFlag.ItemIsEditable
    assert second.flags() & Qt.ItemFlag.ItemIsEditable
    second.setText("typed by hand")
    table.show_cells([[Cell("1"), Cell("x", editable=True)], [Cell("2"), Cell("y")]])
    assert table.item(0, 0) is first
    assert table.text_at(0, 1) == "x"  # what the document does not hold is not left standing
    assert table.text_at(1, 1) == "y"
    table.show_cells([])
    assert table.rowCount() == 0


def test_a_long_mend_takes_more_lines(qtbot: QtBot, theme: Theme) -> None:
    link = WrappingLink(theme, "Turn over with an idler: 8:(24):12 · 16:(16):20 · 20:20")
    qtbot.addWidget(link)
    assert link.heightForWidth(120) > link.heightForWidth(600)


def test_findings_go_when_their_cause_goes(window: Window) -> None:
    before = len(window.drawer.cards)
    window.session.do(Edit.one("x", ("kit", "sleeve_stock"), 1))
    assert "3 short: dog sleeve" in [card.finding.title for card in window.drawer.cards]
    window.session.undo_stack.undo()
    assert len(window.drawer.cards) == before
    assert window.drawer.count.text() == str(before)


def test_the_gear_column_follows_the_gears(window: Window) -> None:
    window.session.do(
        Edit.one(
            "x",
            ("box", "slots"),
            [slot for slot in window.session.vehicle.box.slots if slot.gear != "6"],
        )
    )
    assert say("gear_column.no-train-yet") in window.gears.button_of("6").words()
    assert [row.gear.name if row.gear else "N" for row in window.gears.buttons] == [
        "R",
        "N",
        "1",
        "2",
        "3",
        "4",
        "5",
        "6",
    ]
    with pytest.raises(KeyError):
        window.gears.button_of("7")
