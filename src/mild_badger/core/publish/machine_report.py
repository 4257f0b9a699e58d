"""The mechanisms of the Machine bench as plain data, for the command line and for scripts."""

from math import inf
from typing import Any

from mild_badger.core.evaluate import Evaluation
from mild_badger.core.linkage.balance import Stability
from mild_badger.core.linkage.cables import run_figures
from mild_badger.core.linkage.clutch import clutch_figures
from mild_badger.core.linkage.lever import motion_of
from mild_badger.core.linkage.liquid import liquid_figures
from mild_badger.core.machine.balance_result import balance_figures
from mild_badger.core.machine.bearings import bearing_rows
from mild_badger.core.machine.crane import OutputFigures, crane_figures
from mild_badger.core.machine.lever_result import lever_seen
from mild_badger.core.machine.result import display_result

__all__ = ["machine_data"]


def machine_data(evaluation: Evaluation) -> dict[str, Any]:
    """Give every mechanism that is planned: mm, N, N·mm, kg, rpm; None for what has no limit."""
    vehicle, situation = evaluation.vehicle, evaluation.situation
    rpm = situation.motor_rpm or vehicle.motor.working_rpm
    found: dict[str, Any] = {}
    engine = display_result(vehicle, evaluation.gear_driven, rpm)
    if engine is not None:
        found["display_engine"] = {
            "crank_rpm": engine.rpm,
            "intervals_deg": list(engine.firing.intervals_deg),
            "even": engine.firing.even,
            "wrong_throws": [w.cylinder for w in engine.wrong],
        }
    drive = lever_seen(vehicle, situation.gear)
    if drive is not None:
        motion = motion_of(drive)
        found["lever_drive"] = {
            "mean_turns": motion.mean,
            "peak": motion.peak,
            "trough": motion.trough,
            "stroke_mm": motion.stroke_mm,
            "efficiency": motion.efficiency,
            "jams": motion.jams or None,
        }
    if vehicle.clutch is not None:
        clutch = clutch_figures(vehicle.clutch)
        found["clutch"] = {
            "uniform_wear_n_mm": clutch.wear,
            "uniform_pressure_n_mm": clutch.pressure,
            "worn_n_mm": clutch.worn,
            "release_n": clutch.release_n,
        }
    if vehicle.liquids:
        lines = [(line.name, liquid_figures(line)) for line in vehicle.liquids]
        found["liquid_lines"] = [
            {
                "name": name,
                "pressure_n_mm2": line.pressure,
                "slave_n": line.slave_n,
                "travel_mm": line.travel,
            }
            for name, line in lines
        ]
    if vehicle.cables is not None:
        runs = [run_figures(vehicle.cables, run) for run in vehicle.cables.runs]
        found["cables"] = [
            {
                "name": run.run.name,
                "travel_mm": run.travel,
                "wanted_mm": run.run.wanted_mm,
                "jams": run.jams or None,
            }
            for run in runs
        ]
    outputs = crane_figures(vehicle, evaluation.gear_driven, rpm)
    if outputs:
        found["outputs"] = [_output(output) for output in outputs]
    balance = balance_figures(vehicle)
    if balance is not None:
        found["balance"] = {
            "here": _standing(balance.here),
            "worst_loaded": _standing(balance.loaded),
            "worst_empty": _standing(balance.empty),
            "road": _standing(balance.road),
            "ballast_kg": None
            if balance.window is None
            else [_finite(kg) for kg in balance.window],
            "load_chart": [
                {"reach_mm": mm, "allowed_kg": _finite(allowed), "tips_kg": _finite(tips)}
                for mm, allowed, tips in zip(
                    balance.chart.reach_mm,
                    balance.chart.allowed_kg,
                    balance.chart.tips_kg,
                    strict=True,
                )
            ],
        }
    found["bearings"] = [
        {
            "name": row.name,
            "load_n": row.load.load_n,
            "rpm": row.load.rpm,
            "serve": [judged.kind for judged in row.judged if judged.serves],
        }
        for row in bearing_rows(vehicle)
    ]
    return found


def _finite(value: float) -> float | None:
    return None if value == inf else value


def _output(found: OutputFigures) -> dict[str, Any]:
    return {
        "name": found.output.name,
        "input": found.input,
        "input_rpm": found.input_rpm,
        "turns": None if found.turns is None else str(found.turns),
        "rate": found.rate,
        "unit": found.unit,
        "end_n_mm": _finite(found.end_n_mm),
        "input_n_mm": found.input_n_mm,
        "held_by": found.holds or None,
    }


def _standing(found: Stability) -> dict[str, Any]:
    return {
        "slew_deg": found.slew_deg,
        "reach_mm": found.reach_mm,
        "margin_mm": found.margin_mm,
        "factor": _finite(found.factor),
        "edge": found.edge,
        "feet_n": list(found.feet_n),
    }
