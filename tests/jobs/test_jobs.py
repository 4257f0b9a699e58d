"""Every job through the real process: its answer, what passes, and what may not."""

import io
import json
import subprocess
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.errors import DocumentError
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.function_box import place_functions, take_places
from mild_badger.core.mechanisms.lever.edits import lay_out_lever
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.box import GearPair, Train
from mild_badger.core.vehicle.boxes import BOXES
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_trains
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.jobs.codec import decode, encode, read_message, write_message
from mild_badger.jobs.process import command
from mild_badger.jobs.registry import JOBS, work_of
from strategies import vehicle_of


def answers(*jobs: tuple[str, tuple[Any, ...]], cwd: Path | str = "/") -> list[list[Any]]:
    """Send jobs to a real process and give the last answer to each."""
    sent = io.BytesIO()
    for name, arguments in jobs:
        write_message(sent, name, arguments)
    done = subprocess.run(
        command(), input=sent.getvalue(), capture_output=True, check=True, cwd=cwd, timeout=120
    )
    assert done.stderr == b""
    stream, found = io.BytesIO(done.stdout), []
    for name, _ in jobs:
        while (answer := read_message(stream, name))[0] == "told":
            assert 0.0 <= answer[1] <= 1.0
        found.append(answer)
    assert stream.read() == b""
    return found


@cache
def placed_tractor() -> Vehicle:
    return example_vehicle("larkholm-timber-tractor")


@cache
def small() -> Vehicle:
    vehicle = vehicle_of(2.0, 1.0)
    trains: dict[str, Train] = {
        "1": (GearPair(driver=12, driven=24),),
        "2": (GearPair(driver=16, driven=16),),
    }
    vehicle = apply_edit(vehicle, set_trains(vehicle, trains))
    return apply_edit(vehicle, Edit.one("Look for a second", ("placing", "seconds"), 1.0))


def arguments_of(name: str) -> tuple[Any, ...]:
    match name:
        case "plan book":
            return placed_tractor(), None, ("parts",), RatioConvention.TURNS_IN
        case "proof by solids":
            return (placed_tractor(),)
        case "place functions":
            return example_vehicle("larkholm-street-sweeper"), 60.0
        case "proof of functions":
            sweeper = example_vehicle("larkholm-street-sweeper")
            return (apply_edit(sweeper, take_places(sweeper, place_functions(sweeper, 60.0))),)
        case "vehicle model":
            return placed_tractor(), "stl"
        case "box model":
            return placed_tractor(), "stl"
        case "templates":
            return (example_vehicle("larkholm-sawmill-trolley"),)
        case "try relaxed limits":  # with time enough that none is cut short on a busy machine
            return (apply_edit(small(), Edit.one("", ("placing", "seconds"), 60.0)),)
        case "place fulcrum":
            return (example_vehicle("larkholm-sawmill-trolley"),)
        case "trains of a gear":
            return small(), "1"
        case _:
            return (small(),)


WRITTEN = ("plan book", "templates", "box model", "vehicle model")


@pytest.mark.parametrize("name", JOBS)
def test_every_job_gives_in_the_process_what_it_gives_here(name: str) -> None:
    arguments = arguments_of(name)
    ((kind, result),) = answers((name, arguments))
    assert kind == "done", result
    here = work_of(name)(*arguments)
    assert decode(json.loads(json.dumps(encode(here))), name) == here  # nothing is lost on the way
    if name == "place box":  # bound by time, so a slow moment may end it earlier
        assert type(result) is type(here)
        assert not result.unplaced
    elif name in WRITTEN:  # their files carry dates and ids
        assert type(result) is type(here)
        assert len(result) == pytest.approx(len(here), rel=0.05)
    else:
        assert result == here


@pytest.mark.parametrize("architecture", BOXES)
def test_find_the_set_works_for_every_architecture(architecture: str) -> None:
    vehicle = vehicle_of(3.0, 2.0, 1.0)
    names = [gear.name for gear in vehicle.real.gears]
    if architecture == "lever":
        vehicle = apply_edit(vehicle, lay_out_lever(vehicle))
        job = "place fulcrum"
    else:
        vehicle = apply_edit(vehicle, apply_box(vehicle, blank_box(architecture, names)))
        job = "find set"
    ((kind, result),) = answers((job, (vehicle,)))
    assert kind == ("failed" if architecture == "none" else "done"), result


def test_a_job_that_cannot_be_done_or_is_none_is_said_and_the_next_is_done() -> None:
    first, second, third = answers(
        ("plan book", (small(), None, ("no such chapter",), RatioConvention.TURNS_IN)),
        ("box model", (small(), "stl")),
        ("trains of a gear", (small(), "1")),
    )
    assert first[0] in ("failed", "broken")
    assert second[0] == "failed"  # nothing is placed: a sentence, no fault
    assert third[0] == "done"


@pytest.mark.parametrize("planted", ["json.py", "mild_badger.py", "numpy.py", "sitecustomize.py"])
def test_a_file_lying_about_is_not_run(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, planted: str
) -> None:
    trap = tmp_path / "ran"
    code = f"open({str(trap)!r}, 'w').close()\nraise SystemExit(3)\n"
    (tmp_path / planted).write_text(code)
    package = tmp_path / "mild_badger"
    if planted == "mild_badger.py":
        package.mkdir()
        (package / "__init__.py").write_text(code)
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    ((kind, _),) = answers(("trains of a gear", (small(), "1")), cwd=tmp_path)
    assert kind == "done"
    assert not trap.exists()


@pytest.mark.parametrize("demo", DEMOS)
def test_documents_pass_as_they_are(demo: str) -> None:
    vehicle = example_vehicle(demo)
    there = decode(json.loads(json.dumps(encode(vehicle))), "find set")
    assert there == vehicle
    assert there.model_dump_json() == vehicle.model_dump_json()


def test_exact_fractions_stay_exact() -> None:
    for value in (
        Fraction(10**40 + 1, 3),
        (Fraction(1, 3), {2: b"\x00"}, [None, 1.5, float("inf")]),
    ):
        assert decode(json.loads(json.dumps(encode(value))), "find set") == value


@pytest.mark.parametrize(
    "message",
    [
        {"$data": ["subprocess:Popen", {"args": "true"}]},
        {"$data": ["mild_badger.core.errors:BadgerError", {}]},
        {"$enum": ["mild_badger.core.watch:Watch", 1]},
        {"$code": "print(1)"},
        {"$data": ["mild_badger.core.watch:Watch", {}, 3], "more": 1},
        {"$fraction": "1/0"},
    ],
)
def test_only_known_types_are_made(message: dict[str, Any]) -> None:
    data = json.dumps(["done", message]).encode()
    stream = io.BytesIO(len(data).to_bytes(8, "big") + data)
    with pytest.raises((DocumentError, ZeroDivisionError)):
        read_message(stream, "find set")
    with pytest.raises(TypeError):
        encode(io.BytesIO())


def test_a_placement_can_be_taken_after_it_has_passed() -> None:
    ((kind, placed),) = answers(("place box", (small(),)))
    assert kind == "done"
    taken = apply_edit(small(), apply_layout(small(), placed))
    assert taken.layout is not None
    assert len(taken.layout.gears) >= 4
