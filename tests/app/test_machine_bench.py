"""The Machine bench: a display engine planned, arranged, geared, and a glued crank looked over."""

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from hands import type_over
from mild_badger.app.benches.machine.bench import MachineBench
from mild_badger.app.window import Window

LEFT = Qt.MouseButton.LeftButton


def test_a_crank_is_planned_geared_and_its_wrong_throw_named(qtbot: QtBot, window: Window) -> None:
    window.session.engage("3")
    window.show_bench("Machine")
    bench = window.bench
    assert isinstance(bench, MachineBench)
    page = bench.engine_page
    assert "Press Plan one" in page.view.accessibleDescription()
    page.grab()
    qtbot.mouseClick(page.plan, LEFT)
    assert "fires every 180°" in page.words.text()
    assert "The crank turns 3200 rpm" in page.words.text()
    type_over(qtbot, page.lines["pairs"], "8:40 · 8:24")
    assert "The crank turns 213 rpm, as the motor." in page.words.text()
    page.presets.setCurrentIndex(page.presets.findData("V8, cross-plane"))
    page.presets.activated.emit(page.presets.currentIndex())
    assert "1-8-4-3-6-5-7-2 fires every 90°" in page.words.text()
    page.slider.setValue(130)
    page.grab()
    type_over(qtbot, page.lines["order"], "1-2-3")
    assert "must name each of the 8 cylinders" in window.notice_text.text()
    qtbot.keyClick(page.lines["order"], Qt.Key.Key_Escape)
    type_over(qtbot, page.lines["throws"], "0, 180, 180, 0")
    type_over(qtbot, page.lines["made"], "10, 190, 100, 10")
    assert "Throw 3 stands at 90° instead of 180°" in page.words.text()
    assert any(f.code == "wrong-throw" for f in window.session.evaluation.findings)
    page.grab()
    before = page.view.angle
    qtbot.mouseClick(page.run, LEFT)
    qtbot.waitUntil(lambda: page.view.angle != before, timeout=3000)
    qtbot.mouseClick(page.run, LEFT)
    assert page.run.text() == "Turn it"
    qtbot.mouseClick(page.drop, LEFT)
    assert window.session.vehicle.display is None
    assert page.words.text() == ""
