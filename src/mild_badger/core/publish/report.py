"""An evaluation as plain data, for the command line and for scripts."""

from dataclasses import asdict
from fractions import Fraction
from typing import Any

from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.shaft_line import shaft_line
from mild_badger.core.axle.steering import steering_result
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.functions.result import FunctionResult
from mild_badger.core.mechanisms.base import RunningState
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.performance.pull import pulls
from mild_badger.core.results import GearResult
from mild_badger.core.shift.states import ShiftState
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DIRECTION_WORDS", "fraction_text", "report", "running_data", "train_data"]

DIRECTION_WORDS = {1: "forwards", -1: "backwards", 0: "none"}


def fraction_text(value: Fraction | None) -> str | None:
    """Write an exact ratio as ``12/5``; whole numbers stand alone."""
    return None if value is None else str(value)


def train_data(gear: GearResult) -> list[dict[str, Any]]:
    """Give a train as plain data."""
    return [pair.model_dump(mode="json") for pair in gear.train]


def report(evaluation: Evaluation) -> dict[str, Any]:
    """Give the whole evaluation as plain data.

    Speeds in rpm, m/s and km/h, forwards positive; errors in per cent; ratios exact.
    """
    vehicle = evaluation.vehicle
    return {
        "vehicle": vehicle.name,
        "architecture": vehicle.box.architecture,
        "fit": vehicle.search.fit,
        "factor": evaluation.factor,
        "worst_error_percent": evaluation.worst_error_percent,
        "final_drive": {
            "ratio": fraction_text(evaluation.final_ratio),
            "wanted": evaluation.final_wanted,
            "error_percent": evaluation.final_error_percent,
        },
        "scale": {
            "denominator": vehicle.scale.denominator,
            "speed_school": vehicle.scale.speed_school,
        },
        "gears": [_gear(gear) for gear in evaluation.gears],
        "states": [_state(vehicle, state) for state in evaluation.proof.states],
        "settings": {
            "all": evaluation.proof.settings,
            "locking": evaluation.proof.locking,
            "reached": len(evaluation.proof.states),
        },
        "pull": [
            {**asdict(pull), "gear": vehicle.gear_name(pull.gear)}
            for pull in pulls(vehicle, evaluation.gears)
        ],
        "running": running_data(evaluation),
        "functions": None if evaluation.functions is None else _functions(evaluation.functions),
        "machine": _mechanisms(evaluation),
        "findings": [finding.as_json() for finding in evaluation.findings],
    }


def running_data(evaluation: Evaluation) -> dict[str, Any] | None:
    """Give axle and steering where they are planned: clearances in mm, angles in degrees."""
    vehicle = evaluation.vehicle
    if vehicle.running is None:
        return None
    room, steering, line = clearance(vehicle), steering_result(vehicle), shaft_line(vehicle)
    return {
        "ground_clearance_mm": room.ground_mm,
        "limited_by": room.limited_by,
        "approach_deg": room.approach_deg,
        "departure_deg": room.departure_deg,
        "breakover_deg": room.breakover_deg,
        "lock_deg": steering.lock_deg,
        "stopped_by": steering.stop or None,
        "worst_error_deg": steering.worst_error_deg,
        "turning_radius_mm": steering.least_radius_mm,
        "shaft_mm": line.shaft_mm,
        "floor_mm": line.floor_mm,
        "tunnel_mm": line.tunnel_mm,
    }


def _state(vehicle: Vehicle, state: ShiftState) -> dict[str, Any]:
    return {
        "sleeves": dict(state.sleeves),
        "verdict": state.verdict.value,
        "gears": [vehicle.gear_name(gear) for gear in state.gears],
        "ratio": None if state.ratio is None else fraction_text(state.ratio),
        "wheel_turns": None if state.forwards is None else fraction_text(state.forwards),
        "fighting": list(state.fighting),
        "passing": state.passing,
    }


def _functions(result: FunctionResult) -> dict[str, Any]:
    """Give a function box: what is built, and every position with the motor turning either way."""
    arrangement = result.arrangement
    return {
        "problems": list(arrangement.problems),
        "one_way_shaft": arrangement.rectifier is not None,
        "one_way_clutches": arrangement.clutches,
        "shafts": dict(result.letters),
        "branches": [
            {
                "output": branch.name,
                "output_id": branch.output,
                "output_shaft": result.output_letter(branch.output),
                "feed": branch.feed,
                "train": [pair.model_dump(mode="json") for pair in branch.train],
                "ratio": fraction_text(branch.ratio),
                "error_percent": branch.error_percent,
                "one_way_clutch": branch.sense,
                "sleeve": branch.sleeve,
                "face": branch.face,
                "positions": list(branch.positions),
            }
            for branch in arrangement.branches
        ],
        "states": [
            {
                "position": state.position,
                "motor": state.direction,
                "sleeves": dict(state.sleeves),
                "speeds": {
                    result.box.called(o.output): fraction_text(o.speed) for o in state.outputs
                },
                "right": state.right,
                "locks": state.locked,
                "passing": state.passing,
            }
            for state in result.states
        ],
        "trials": list(result.trials),
    }


def _gear(gear: GearResult) -> dict[str, Any]:
    return {
        "id": gear.id,
        "name": gear.name,
        "state": gear.state.value,
        "target": gear.target,
        "ratio": fraction_text(gear.ratio),
        "error_percent": gear.error_percent,
        "direction": DIRECTION_WORDS[gear.direction],
        "train": train_data(gear),
        "second_train": [pair.model_dump(mode="json") for pair in gear.second],
        "direct": gear.direct,
        "motor_rpm": gear.motor_rpm,
        "box_rpm": gear.box_rpm,
        "wheel_rpm": gear.wheel_rpm,
        "model_speed_m_s": None if gear.speed_mm_s is None else gear.speed_mm_s / 1000,
        "scale_speed_km_h": None
        if gear.full_size_mm_s is None
        else km_per_hour(gear.full_size_mm_s),
        "real_speed_at_limit_km_h": km_per_hour(gear.real_limit_mm_s),
    }


def _mechanisms(evaluation: Evaluation) -> dict[str, Any]:
    """Give every mechanism that is planned."""
    vehicle, situation = evaluation.vehicle, evaluation.situation
    rpm = situation.motor_rpm or vehicle.motor.working_rpm
    drive = RunningState(evaluation.gear_driven, situation.gear, rpm)
    figures = {m.data_key: m.data(vehicle, drive) for m in MECHANISMS}
    return {key: data for key, data in figures.items() if data is not None}
