"""Speed in every gear against motor speed, target against got."""

from math import ceil, floor, log10
from typing import Any

import numpy as np
import pyqtgraph
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, M_S, bare, in_km_h, in_m_s, in_units
from mild_badger.core.message import say
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.units import km_per_hour
from mild_badger.core.words import signed

__all__ = ["SpeedPage"]

WAYS: dict[int, str] = {
    1: say("tab-road.forwards-plus"),
    -1: say("tab-road.backwards-minus"),
    0: say("tab-road.nothing"),
}
"""Which way the wheels turn."""


class SpeedPage(QWidget):
    """A chart of lines through rest, and the table of the same."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        self.chart = pyqtgraph.PlotWidget()
        self.chart.setAccessibleName(say("tab-road.speed-in-every-gear-against-motor-speed"))
        self.chart.setMouseEnabled(x=False, y=False)
        self.chart.hideButtons()
        self.chart.setMenuEnabled(False)
        self.chart.setMinimumHeight(220)
        self.chart.showGrid(x=True, y=True, alpha=0.15)
        for name, words in (
            ("bottom", say("tab-road.motor-speed-rpm")),
            ("left", say("tab-road.model-speed", m_s=M_S)),
        ):
            axis = self.chart.getAxis(name)
            axis.setStyle(tickFont=text_font("small"))
            axis.enableAutoSIPrefix(False)
            axis.setLabel(shown(words))
        self.chart.getAxis("left").setScale(in_units(1.0, "m/s", units_in_force()))
        self._lines: list[tuple[Any, Any, Any]] = []
        self._drawn: object = None
        self._dark: bool | None = None
        self._looks: dict[int, object] = {}
        self._ranges = (0.0, 0.0)
        self._working = pyqtgraph.InfiniteLine(0, angle=90)
        self.chart.addItem(self._working)
        outer.addWidget(self.chart, 3)
        self.table = Table(
            (
                say("tab-road.gear-2"),
                say("tab-road.wanted"),
                say("tab-road.got"),
                say("tab-road.error"),
                say("tab-road.model", m_s=M_S),
                say("tab-road.at-full-size", km_h=KM_H),
                say("tab-road.real-at-limit", km_h=KM_H),
                say("tab-road.drives"),
            ),
            say("tab-road.speed-in-every-gear"),
        )
        self.table.header_right(1, 2, 3, 4, 5, 6)
        self.table.stretch(7)
        outer.addWidget(self.table, 2)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        self._draw(evaluation)
        self._fill(evaluation)

    def heading(self) -> str:
        """Say what the engaged gear does."""
        gear = self.session.evaluation.engaged
        if gear is None or gear.full_size_mm_s is None or gear.speed_mm_s is None:
            return say("tab-road.speed-in-every-gear")
        return say(
            "tab-road.gear-like-at-full-size",
            name=gear.name,
            speed_mm_s=in_m_s(abs(gear.speed_mm_s) / 1000, 2),
            km_per_hour=in_km_h(abs(km_per_hour(gear.full_size_mm_s)), 0),
        )

    def facts(self) -> str:
        """Say at what motor speed, and by which school."""
        vehicle = self.session.vehicle
        school = vehicle.scale.speed_school
        rule = "v × n" if school == "geometric" else "v × √n"
        return say(
            "tab-road.the-motor-runs-at-of-at-most-rpm-full-size",
            working_rpm=vehicle.motor.working_rpm,
            shaft_no_load_rpm=vehicle.motor.shaft_no_load_rpm,
            school=school,
            rule=rule,
            denominator=vehicle.scale.denominator,
        )

    def _draw(self, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        got = tuple(
            (line.gear, line.reverse, line.model_m_s, line.wanted_m_s)
            for line in evaluation.speed_lines
        )
        motor = evaluation.vehicle.motor
        drawn = (got, motor, evaluation.situation.gear, self.theme.dark)
        if drawn == self._drawn:
            return
        self._drawn = drawn
        self._color()
        lines = evaluation.speed_lines
        while len(self._lines) < len(lines):
            label = pyqtgraph.TextItem(anchor=(0, 0.5))
            added = (pyqtgraph.PlotCurveItem(), pyqtgraph.PlotCurveItem(), label)
            for item in added:
                self.chart.addItem(item)
            self._lines.append(added)
        top_speed = 0.01
        for number, (target, curve, label) in enumerate(self._lines):
            line = lines[number] if number < len(lines) else None
            drives = line is not None and line.model_m_s is not None
            target.setVisible(line is not None)
            curve.setVisible(drives)
            label.setVisible(drives)
            if line is None:
                continue
            top_speed = max(top_speed, line.wanted_m_s, line.model_m_s or 0.0)
            chosen = line.gear == evaluation.situation.gear
            looks = (line, chosen, self.theme.dark)
            if self._looks.get(number) == looks:
                continue
            self._looks[number] = looks
            ends = np.array([0.0, line.motor_rpm])
            dashed = pen(tokens.soft, 1, dashed=True)
            target.setData(ends, np.array([0.0, line.wanted_m_s]), pen=dashed)
            if line.model_m_s is None:
                continue
            accent = tokens.back if line.reverse else tokens.run
            color = accent if chosen or line.reverse else tokens.ink
            solid = pen(color, 3 if chosen else 1.4)
            curve.setData(ends, np.array([0.0, line.model_m_s]), pen=solid)
            label.setText(line.gear, color)
            label.setFont(text_font("lead", bold=chosen))
            label.setPos(line.motor_rpm, line.model_m_s)
        self._working.setValue(evaluation.vehicle.motor.working_rpm)
        self._working.setPen(pen(tokens.soft, 1.2, dashed=True))
        step = 10 ** floor(log10(top_speed)) / 10  # so that a small edit leaves the scale alone
        ranges = (motor.shaft_no_load_rpm * 1.06, ceil(top_speed * 1.04 / step) * step)
        if ranges != self._ranges:
            self._ranges = ranges
            self.chart.setRange(xRange=(0, ranges[0]), yRange=(0, ranges[1]), padding=0)

    def _color(self) -> None:
        """Color sheet and axes when the theme has changed; axes are slow to draw anew."""
        if self._dark == self.theme.dark:
            return
        self._dark = self.theme.dark
        tokens = self.theme.tokens
        self.chart.setBackground(tokens.paper)
        for name in ("bottom", "left"):
            axis = self.chart.getAxis(name)
            axis.setPen(pen(tokens.hair))
            axis.setTextPen(tokens.soft)

    def _fill(self, evaluation: Evaluation) -> None:
        school = self.session.school
        rows = []
        for gear in evaluation.gears:
            got = "–" if gear.ratio is None else format_ratio(abs(gear.ratio), school)
            percent = gear.error_percent
            error = "–" if percent is None else signed(school.error_percent(percent), "+.2f")
            speed = "–" if gear.speed_mm_s is None else bare(in_m_s(gear.speed_mm_s / 1000, 3))
            full = gear.full_size_mm_s
            words = (
                (gear.name, False),
                (format_ratio(gear.wanted, school), True),
                (got, True),
                (error, True),
                (speed, True),
                ("–" if full is None else bare(in_km_h(km_per_hour(full), 1)), True),
                (bare(in_km_h(km_per_hour(gear.real_limit_mm_s), 1)), True),
                (WAYS[gear.direction], False),
            )
            bold = gear.id == evaluation.situation.gear
            rows.append([Cell(text, right=right, bold=bold) for text, right in words])
        self.table.show_cells(rows)
