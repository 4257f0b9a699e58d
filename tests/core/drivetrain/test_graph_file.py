"""Drivetrains of any make: looked over, read from files, solved; bad ones told as findings."""

import json
from fractions import Fraction
from math import pi
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings

from mild_badger.cli import run
from mild_badger.core.drivetrain.examine import examined
from mild_badger.core.drivetrain.graph import (
    Body,
    clutch,
    dog,
    external_mesh,
    fixed,
    held,
    rack_mesh,
    slipping,
)
from mild_badger.core.drivetrain.graph_file import graph_report, graph_schema, read_graph
from mild_badger.core.drivetrain.one_way import solve_one_way
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from telling import Told, refuses, tells, told

from .test_power import graph
from .test_solve import random_graphs

MACHINE: dict[str, Any] = {
    "format": "mild-badger graph",
    "version": 1,
    "bodies": [
        {"id": "motor"},
        {"id": "worm"},
        {"id": "wheel", "kind": "gear"},
        {"id": "ring"},
        {"id": "carrier"},
        {"id": "pinion", "kind": "gear"},
        {"id": "rack", "kind": "rack"},
    ],
    "couplings": [
        {"kind": "clutch", "of": ["motor", "worm"], "lever": "pedal"},
        {"kind": "worm", "of": ["worm", "wheel"], "teeth": [24], "back_drivable": False},
        {"kind": "planetary", "of": ["wheel", "ring", "carrier"], "teeth": [12, 36]},
        {"kind": "held", "of": ["ring"]},
        {"kind": "fixed", "of": ["carrier", "pinion"]},
        {"kind": "rack", "of": ["pinion", "rack"], "teeth": [16]},
    ],
    "inputs": ["motor"],
    "positions": {"pedal": "closed"},
    "loads": {"rack": -10.0},
}


def report_of(**changes: Any) -> dict[str, Any]:
    return graph_report(read_graph(json.dumps(MACHINE | changes)))[0]


def test_a_machine_of_every_kind_is_read_and_solved() -> None:
    jsonschema.validate(MACHINE, graph_schema())
    data = report_of()
    speed = {body["id"]: body["speed"] for body in data["bodies"]}
    # worm 1:24, planetary with the ring held 12 / (12 + 36), sixteen teeth of rack a turn
    assert Fraction(speed["carrier"]) == Fraction(1, 24) * Fraction(12, 48)
    assert Fraction(speed["rack"]) == Fraction(1, 96) * 16
    assert {b["id"]: b["motion"] for b in data["bodies"]}["ring"] == "held"
    assert data["findings"] == []
    # without losses: torque on the motor is load × teeth a turn (virtual work)
    assert data["power"]["source_torque"] == pytest.approx(10 / 6)
    assert data["power"]["driven_back"] == []
    # the load helps: a self-locking worm is not turned by its wheel
    assert report_of(loads={"rack": 10.0})["power"]["driven_back"] == ["worm§wheel (2)"]


def test_a_slipping_clutch_passes_torque_and_burns_the_rest() -> None:
    pedal = clutch("a", "b", lever="pedal")
    train = graph(pedal, external_mesh("b", "c", (10, 20)))
    sleeves = {"pedal": "slipping"}
    solved = solve(train, sleeves, (held("c"),))
    assert [solved.speed(body) for body in "ab"] == [1, 0]
    flow = power_flow(train, sleeves, solved, {"c": 6.0}, carrying=(slipping(pedal),))
    assert flow is not None
    # by hand: the load of 6 takes 3 at the clutch; with b standing all the power in is lost there
    assert flow.source_torque == pytest.approx(3)
    assert flow.power_in == pytest.approx(3)
    assert flow.power_out == 0
    assert flow.lost == pytest.approx(3)
    # a load the other way would turn the clutch backwards: nothing slips like that
    assert power_flow(train, sleeves, solved, {"c": -6.0}, carrying=(slipping(pedal),)) is None
    closed = solve(train, {"pedal": "closed"})
    assert closed.speed("b") == 1


def test_a_rack_moves_by_its_teeth() -> None:
    train = graph(external_mesh("a", "p", (8, 24)), rack_mesh("p", "r", 20, sign=-1))
    teeth = solve(train, {}).speed("r")
    assert teeth == Fraction(20, 3)
    # 20 teeth of module 0.5: one turn of the pinion is π · 10 mm of rack
    assert float(teeth) * 3 * pi * 0.5 == pytest.approx(travel_per_turn("rack", 10.0)[0])


@given(random_graphs())
@settings(max_examples=100, deadline=None)
def test_reversing_the_input_reverses_all_speeds_of_any_graph(question: Any) -> None:
    train, conditions = question
    one, other = (solve_one_way(train, {}, conditions, direction=d) for d in (1, -1))
    for body in train.index:
        there = other.speed(body)
        assert one.speed(body) == (None if there is None else -there)


def codes(bodies: str, *parts: Any, inputs: tuple[str, ...] = ("a",)) -> list[str]:
    """Look a graph over; bodies are letters, capitals are gears."""
    made = [Body(n, n, "gear" if n.isupper() else "shaft") for n in bodies]
    return [finding.code for finding in examined(made, parts, inputs)[1]]


def test_what_cannot_be_a_drivetrain_is_found() -> None:
    mesh = external_mesh("A", "B", (8, 16))
    sound = (fixed("a", "A"), mesh, fixed("B", "b"))
    assert codes("aAbB", *sound) == []
    assert codes("aAb", *sound) == ["loose-end", "loose-end"]  # two couplings name B
    assert codes("aAbBc", *sound) == ["loose-end"]
    assert codes("aAbBb", *sound) == ["body-twice"]
    assert codes("aAbB", *sound, fixed("a", "a")) == ["coupled-to-itself"]
    assert codes("aAbB", *sound, inputs=()) == ["no-input"]
    assert codes("aAbB", *sound, inputs=("z",)) == ["no-input"]
    assert codes("aAB", *sound[:2]) == ["gear-on-no-shaft"]
    assert codes("aAbB", *sound, inputs=("a", "b")) == ["inputs-fight"]
    open_dog = dog("B", "b", sleeve="s", position="front")
    assert codes("aAbB", *sound[:2], open_dog, inputs=("a", "b")) == []


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (
            {"couplings": [{"kind": "fixed", "of": ["motor"]}]},
            told("drivetrain.it-joins-bodies-not", wanted="2", count_of_of="1"),
        ),
        (
            {"couplings": [{"kind": "belt", "of": ["motor", "worm"]}]},
            told(
                "drivetrain.it-takes-not", teeth="2", tooth_count="tooth counts", count_of_teeth="0"
            ),
        ),
        (
            {"couplings": [{"kind": "glue", "of": ["motor", "worm"]}]},
            told("vehicle.cannot-be-used", shown_value="“glue”"),
        ),
        ({"bodies": 3}, told("vehicle.cannot-be-used", label="Bodies")),
        ({"wheels": []}, told("vehicle.is-not-a-field-of-this-format-remove-it-or")),
        ({"version": 9}, told("vehicle.cannot-be-used", label="Version", shown_value="9")),
    ],
)
def test_bad_files_name_the_field(change: dict[str, Any], said: Told) -> None:
    with refuses(DocumentError, said):
        report_of(**change)
    with refuses(DocumentError, "json-text.the-file-is-not-complete-json-at-line-column"):
        read_graph("{")


def test_names_that_are_astray_are_findings() -> None:
    changes: tuple[dict[str, Any], ...] = (
        {"loads": {"wagon": 1.0}},
        {"positions": {"lever": "up"}},
        {"couplings": [*MACHINE["couplings"], {"kind": "held", "of": ["wagon"]}]},
        {"couplings": [{"kind": "one-way clutch", "of": ["motor", "worm"]}] * 13},
        {"inputs": []},
    )
    for change in changes:
        data = report_of(**change)
        assert [f["severity"] for f in data["findings"]][:1] == ["error"]


def test_the_command_prints_speeds_findings_and_no_traceback(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "crane.json"
    file.write_text(json.dumps(MACHINE))
    assert run(["solve", str(file)]) == 0
    out = capsys.readouterr().out
    assert "rack                     turns             1/6" in out
    assert say("command-line.in-out-lost", power=1.66667, power_2=1.66667, power_3=0.0) in out
    assert run(["solve", str(file), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["locked"] is False
    loop = [
        {"kind": "external mesh", "of": list(pair), "teeth": [8, 8]}
        for pair in (("motor", "worm"), ("worm", "ring"), ("ring", "motor"))
    ]
    file.write_text(json.dumps(MACHINE | {"couplings": loop, "positions": {}, "loads": {}}))
    assert run(["solve", str(file)]) == 1
    out = capsys.readouterr().out
    assert "motor                    locked" in out
    assert tells(
        out, "command-line.these-fight", listed="motor~worm (1), worm~ring (2), ring~motor (3)"
    )
    file.write_text("[]")
    assert run(["solve", str(file)]) == 2
    assert "crane.json:" in capsys.readouterr().err
    assert run(["solve", str(tmp_path / "none.json")]) == 2
    assert run(["schema", "--of", "graph"]) == 0
    assert "bodies" in capsys.readouterr().out
