"""Lever drives of every make, and graphs of every coupling, as audited."""

import json
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.conflict import conflict
from mild_badger.core.drivetrain.examine import examine
from mild_badger.core.drivetrain.graph_file import graph_report, read_graph
from mild_badger.core.drivetrain.lever_motion import (
    arms_mm,
    best_counts,
    describe_count,
    describe_motion,
    fulcrum_for,
    jam_at,
    lever_efficiency,
    mean_turns,
    mechanism,
    motion_of,
    pose_at,
    range_of,
    stroke_mm,
)
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.figures import plain as plain_text
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.vehicle.demo import DEMOS
from pinned import hold

LEVERS = {
    "as-it-begins": LeverDrive(),
    "crank": LeverDrive(motion="crank", ratchets=4, throw_mm=8, rod_mm=40),
    "two-sided": LeverDrive(two_sided=True, ratchets=2, turns=-1, phases_deg=(0, 80)),
    "coarse": LeverDrive(teeth=9, ratchets=1, wheel_mm=12, pin_lost_mm=0.6, pawl_lost_mm=0.9),
    "uneven": LeverDrive(motion="crank", ratchets=3, phases_deg=(0, 100, 250), loss=0.2),
    "short": LeverDrive(lever_mm=60, stop_low_mm=15, stop_high_mm=52, fulcrum_mm=20, throw_mm=16),
}


@pytest.mark.parametrize("name", LEVERS)
def test_lever_drives_are_as_audited(name: str) -> None:
    drive = LEVERS[name]
    places = (drive.stop_low_mm, drive.fulcrum_mm, drive.stop_high_mm)
    angles = (0.0, 35.0, 90.0, 155.0, 180.0, 290.0, 400.0)
    motions = {place: motion_of(drive, place) for place in places}
    last = drive.ratchets - 1
    figures: dict[str, Any] = {
        "strokes": [stroke_mm(drive, angle) for angle in angles],
        "poses": {f"{a} {n}": pose_at(drive, a, n) for a in angles for n in {0, last}},
        "linkages": {a: mechanism(drive, a) for a in angles[:4]},
        "jams": {place: jam_at(drive, place) for place in (5.0, *places, drive.lever_mm - 3)},
        "efficiency": lever_efficiency(drive),
        "arms": arms_mm(drive),
        "motions": motions,
        "quick": motion_of(drive, quick=True),
        "pulsation": {place: motion.pulsation for place, motion in motions.items()},
        "torque": {place: motion.input_torque(40.0) for place, motion in motions.items()},
        "means": [mean_turns(drive, place) for place in places],
        "fulcrums": [fulcrum_for(drive, turns) for turns in (0.02, 0.05, 0.1, 0.3, 3.0)],
        "range": range_of(drive, 5),
        "counts": best_counts(drive),
        "words": [
            len(plain_text(describe_motion(drive, motions[places[0]]))),
            len(describe_count(drive)),
        ],
    }
    hold(__file__, f"lever-{name}", figures)


KINDS: list[dict[str, Any]] = [
    {"kind": "fixed", "of": ["b", "c"]},
    {"kind": "external mesh", "of": ["b", "c"], "teeth": [12, 30]},
    {"kind": "internal mesh", "of": ["b", "c"], "teeth": [14, 70]},
    {"kind": "belt", "of": ["b", "c"], "teeth": [16, 24]},
    {"kind": "bevel pair", "of": ["b", "c"], "teeth": [12, 20], "side": "right"},
    {"kind": "worm", "of": ["b", "c"], "teeth": [28], "starts": 2, "sign": -1},
    {"kind": "rack", "of": ["b", "c"], "teeth": [18], "sign": -1},
    {"kind": "dog", "of": ["b", "c"], "sleeve": "s", "position": "back"},
    {"kind": "clutch", "of": ["b", "c"], "lever": "pedal"},
    {"kind": "one-way clutch", "of": ["b", "c"], "sign": -1},
    {
        "kind": "sliding mesh",
        "of": ["b", "c"],
        "teeth": [15, 21],
        "sleeve": "s",
        "position": "back",
    },
    {"kind": "same speed", "of": ["b", "c"]},
    {"kind": "planetary", "of": ["b", "c", "d"], "teeth": [18, 54]},
    {"kind": "planet", "of": ["b", "c", "d"], "teeth": [18, 12]},
    {"kind": "bevel differential", "of": ["b", "c", "d"]},
]


@pytest.mark.parametrize("coupling", KINDS, ids=lambda c: str(c["kind"]))
def test_every_coupling_of_a_file_is_as_audited(coupling: dict[str, Any]) -> None:

    def places(sleeve: str, lever: str) -> dict[str, str]:
        """Where its sleeve or its lever stands, of those it has."""
        own = {coupling.get("sleeve"): sleeve, coupling.get("lever"): lever}
        return {name: place for name, place in own.items() if name}

    data: dict[str, Any] = {
        "format": "mild-badger graph",
        "version": 1,
        "bodies": [{"id": name} for name in "abcd"],
        "couplings": [{"kind": "external mesh", "of": ["a", "b"], "teeth": [10, 25]}, coupling],
        "inputs": ["a"],
        "loads": {"c": -8.0},
        "mesh_loss": 0.04,
        "positions": places("back", "slipping"),
    }
    figures: dict[str, Any] = {}
    for name, more in (
        ("plain", {}),
        ("d stands", {"couplings": [*data["couplings"], {"kind": "held", "of": ["d"]}]}),
        ("c stands", {"couplings": [*data["couplings"], {"kind": "held", "of": ["c"]}]}),
        ("back", {"direction": -1}),
        ("open", {"positions": places("front", "open")}),
        ("closed", {"positions": places("back", "closed")}),
        ("two inputs", {"inputs": ["a", "c"]}),
    ):
        report, found = graph_report(read_graph(json.dumps({**data, **more})))
        codes = [[finding.code, finding.severity.value] for finding in found]
        figures[name] = {"report": report, "findings": codes}
    assert figures["plain"]["report"]["bodies"], "the plain one must be solved"
    hold(__file__, f"coupling-{coupling['kind'].replace(' ', '-')}", figures)


@pytest.mark.parametrize("name", DEMOS)
def test_the_graphs_of_the_demos_are_as_audited(name: str) -> None:
    vehicle = example_vehicle(name)
    train = assemble(vehicle)
    figures: dict[str, Any] = {
        "bodies": [[body.id, body.kind, body.teeth] for body in train.bodies],
        "equations": train.equations,
        "findings": [[f.code, f.where] for f in examine(train)],
    }
    for gear in vehicle.real.gears:
        sleeves = shifter_state_for(vehicle, gear.id)
        solution = solve(train, sleeves)
        way = power_path(train, sleeves, train.source, "wheel.left")
        figures[gear.id] = {
            "speeds": solution.speeds,
            "motions": solution.motions,
            "path": None if way is None else [way.bodies, [e.id for e in way.couplings]],
            "meshes": None if way is None else way.meshes,
        }
    hold(__file__, f"graph-{name}", figures)


def test_two_gears_at_once_fight_as_audited() -> None:
    vehicle = example_vehicle()
    train = assemble(vehicle)
    figures: dict[str, Any] = {}
    gears = [gear.id for gear in vehicle.real.gears]
    for one in gears:
        for other in gears:
            sleeves = {**shifter_state_for(vehicle, one), **shifter_state_for(vehicle, other)}
            if one < other and len(sleeves) == 2:
                figures[f"{one} {other}"] = [e.id for e in conflict(train, sleeves)]
    hold(__file__, "fights", figures)
