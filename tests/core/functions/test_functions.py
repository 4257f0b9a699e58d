"""Function boxes: tables assembled, solved, and held against the teeth and the clutches' senses."""

from fractions import Fraction
from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.drivetrain.one_way import solve_one_way
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.functions.arrange import Arrangement, arrange
from mild_badger.core.functions.branches import WAYS
from mild_badger.core.functions.describe import describe_arrangement, end_speed, trial_list
from mild_badger.core.functions.prove import (
    FunctionState,
    build_functions,
    output_body,
    prove_functions,
)
from mild_badger.core.functions.result import function_result
from mild_badger.core.functions.table import (
    add_output,
    cell_text,
    parse_cell,
    parse_drive,
    parse_motor,
    remove_output,
    rename_output,
    rename_position,
)
from mild_badger.core.ids import OutputId
from mild_badger.core.publish.report import report
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.functions import (
    MAX_OUTPUTS,
    FunctionBox,
    FunctionOutput,
    FunctionPosition,
    MotorWay,
    Want,
)
from telling import refuses, tells, told

VEHICLE = example_vehicle()


def want(output: str, ratio: float, motor: MotorWay = "both") -> Want:
    return Want(output=output, ratio=ratio, motor=motor)


def table(
    outputs: str, *positions: tuple[Want, ...], motor: MotorWay = "both", lever: bool = False
) -> FunctionBox:
    """Make a table; outputs are names in a row, those with a ! always turn one way."""
    return FunctionBox(
        outputs=tuple(
            FunctionOutput(name=name.rstrip("!"), one_way=name.endswith("!"))
            for name in outputs.split()
        ),
        positions=tuple(
            FunctionPosition(name=str(n), wants=wants, motor=motor)
            for n, wants in enumerate(positions, start=1)
        ),
        actuation="one lever" if lever else "drum",
    )


SWEEPER = table(
    "arm brush! hopper pump",
    (want("arm", 6),),
    (want("brush", 2),),
    (want("hopper", 9), want("brush", 4)),
    (want("pump", 1.5), want("brush", 4)),
)
FEASIBLE: dict[str, FunctionBox] = {
    "one output, both ways": table("winch", (want("winch", 3),), ()),
    "against the motor": table("winch", (want("winch", -3),), (want("winch", 3),)),
    "two gears": table("fan", (want("fan", 1),), (want("fan", 4),)),
    "always one way": table("fan!", (want("fan", 2),), (want("fan", 4),)),
    "always the other way": table("fan!", (want("fan", -2),)),
    "the sweeper": SWEEPER,
    "two one-way outputs at once": table(
        "brush! fan!", (want("brush", 4), want("fan", -1)), (want("fan", -1),)
    ),
    "forwards only": table("pump", (want("pump", 2, "forward"),), ()),
    "backwards only": table("pump", (want("pump", 2, "backward"),)),
    "the motor's way chooses": table(
        "lift tilt", (want("lift", 3, "forward"), want("tilt", 4, "backward"))
    ),
    "one way, for one way of the motor": table("brush!", (want("brush", 3, "backward"),)),
    "always in": table("light arm", (want("light", 1), want("arm", 5)), (want("light", 1),)),
    "one lever": table("a b c", (want("a", 2),), (want("b", 3),), (want("c", 4),), lever=True),
    "the motor runs forwards only": table(
        "brush! arm", (want("brush", 2), want("arm", 3)), motor="forward"
    ),
}
INFEASIBLE: dict[str, tuple[FunctionBox, str]] = {
    "one way, both ways": (
        table("fan!", (want("fan", 2),), (want("fan", -2),)),
        "must always turn one way",
    ),
    "beyond the kit": (table("fan", (want("fan", 900),)), "found no train that makes 900.000"),
    "two sleeves on one lever": (
        table("a b", (want("a", 2),), (want("a", 2), want("b", 3)), (want("b", 5),), lever=True),
        "one lever moves one at a time",
    ),
    "the motor never runs so": (
        table("fan", (want("fan", 2, "backward"),), motor="forward"),
        "there the motor runs forward only",
    ),
}


def solved(box: FunctionBox) -> tuple[Arrangement, tuple[FunctionState, ...]]:
    arrangement = arrange(VEHICLE, box)
    return arrangement, prove_functions(box, arrangement)


def by_teeth(
    arrangement: Arrangement, box: FunctionBox, position: str, direction: int, output: str
) -> Fraction:
    """Speed of an output from the teeth and the clutches' senses alone."""
    for branch in arrangement.branches:
        if branch.output != output or position not in branch.positions:
            continue
        speed = Fraction(-1 if branch.feed == "one-way" else direction)
        for pair in branch.train:
            speed *= Fraction(-pair.driver, pair.driven) * (-1) ** len(pair.idlers)
        if branch.sense and speed * branch.sense < 0:
            continue
        return speed
    return Fraction(0)


@pytest.mark.parametrize("name", FEASIBLE)
def test_a_table_is_assembled_and_does_what_it_says(name: str) -> None:
    box = FEASIBLE[name]
    arrangement, states = solved(box)
    assert arrangement.problems == ()
    assert all(state.right for state in states)
    positions = {position.name: position for position in box.positions}
    for state in (s for s in states if not s.passing):
        for output in state.outputs:
            expected = by_teeth(arrangement, box, state.position, state.direction, output.output)
            assert (output.speed or 0) == expected
            asked = positions[state.position].want(output.output)
            runs = asked is not None and state.direction in WAYS[asked.motor]
            assert bool(output.speed) == runs
            if asked is not None and runs and output.speed and asked.ratio:
                one_way = next(o for o in box.outputs if o.id == output.output).one_way
                sign = 1 if one_way else state.direction
                assert float(sign / output.speed) == pytest.approx(asked.ratio, rel=0.05 + 1e-9)
    ways = [direction for p in box.positions for direction in WAYS[p.motor]]
    assert len([s for s in states if not s.passing]) == len(ways)


@pytest.mark.parametrize("name", FEASIBLE)
def test_speeds_obey_every_mesh_and_every_clutch(name: str) -> None:
    box = FEASIBLE[name]
    arrangement = arrange(VEHICLE, box)
    train = build_functions(box, arrangement)
    for position in box.positions:
        sleeves = arrangement.settings(position.name)
        for direction in WAYS[position.motor]:
            found = solve_one_way(train, sleeves, direction=direction)
            speeds = {body: found.speed(body) or Fraction(0) for body in train.index}
            for equation in train.equations:
                if equation.holds(sleeves):
                    assert sum(c * speeds[b] for b, c in equation.terms) == 0
            for clutch in train.one_ways:
                ahead = clutch.sense * (speeds[clutch.driven] - speeds[clutch.driver])
                assert ahead >= 0
                if clutch.id in found.carrying:
                    assert ahead == 0


@pytest.mark.parametrize("name", INFEASIBLE)
def test_a_table_that_cannot_be_is_refused_with_the_reason(name: str) -> None:
    box, reason = INFEASIBLE[name]
    arrangement, _ = solved(box)
    assert any(reason in problem for problem in arrangement.problems)


def test_the_sweeper_takes_few_parts() -> None:
    arrangement, states = solved(SWEEPER)
    # by hand: arm, hopper and pump from the input, never together: two sleeves; the brush's two
    # speeds on one sleeve of the one-way shaft
    assert len(arrangement.branches) == 5
    assert len(arrangement.sleeves) == 3
    assert arrangement.clutches == 2
    brush = [o.speed for s in states for o in s.outputs if o.output == "brush" and o.speed]
    assert len(brush) == 6
    assert min(brush) > 0  # whatever the motor does
    words = describe_arrangement(SWEEPER, arrangement, states)
    assert tells(words, "functions.solved-in-all-positions-and-ways-of-the", count_of_solved="8")
    steps = trial_list(SWEEPER, arrangement, states)
    assert tells(steps[0], "functions.without-the-motor-turn-the-input-by-hand-in")
    assert tells(steps, "functions.position", name="2", sleeves="sleeve 3 to the front")
    slow = next(b for b in arrangement.branches if b.output == "brush" and "2" in b.positions)
    rpm = 200 / float(slow.ratio)
    assert any(
        s.startswith(f"Motor backwards: brush turns +, {rpm:.1f} rpm; arm, hopper") for s in steps
    )
    assert any(tells(step, "functions.reverse-the-motor-slowly-with-running-it") for step in steps)


def test_what_is_in_everywhere_takes_no_sleeve() -> None:
    arrangement, _ = solved(FEASIBLE["always in"])
    light = next(b for b in arrangement.branches if b.output == "light")
    assert light.sleeve is None
    assert len(arrangement.sleeves) == 1


def test_shares_of_another_speed_hold_at_the_rope() -> None:
    """A counterweight's rope runs at a quarter of the carriage's, the other way."""
    box = FunctionBox(
        outputs=(
            FunctionOutput(name="carriage", kind="spool", measure=20.0),
            FunctionOutput(name="counterweight", kind="screw", measure=4.0),
            FunctionOutput(name="ring", kind="ring", measure=7.0),
        ),
        positions=(
            FunctionPosition(
                name="run",
                wants=(
                    want("carriage", 12),
                    Want(output="counterweight", of="carriage", share=-0.25),
                ),
            ),
            FunctionPosition(name="turn", wants=(want("ring", 3),)),
        ),
        motor_rpm=240.0,
    )
    arrangement, states = solved(box)
    assert arrangement.problems == ()
    run = next(s for s in states if s.position == "run" and s.direction == 1)
    carriage, weight = (end_speed(box, o) for o in run.outputs[:2])
    assert carriage is not None
    assert weight is not None
    assert (carriage[1], weight[1]) == ("mm/s", "mm/s")
    # 240 rpm / 12 = 20 rpm on π · 20 mm of rope a turn
    assert carriage[0] == pytest.approx(20 * pi * 20 / 60, rel=0.05)
    assert weight[0] / carriage[0] == pytest.approx(-0.25, rel=0.1)
    turn = next(s for s in states if s.position == "turn" and s.direction == 1)
    ring = end_speed(box, turn.outputs[2])
    assert ring is not None
    assert ring[1] == "rpm"
    assert ring[0] == pytest.approx(240 / 3 / 7, rel=0.05)


def test_a_share_of_what_stands_or_moves_otherwise_is_refused() -> None:
    outputs = (
        FunctionOutput(name="a", kind="spool", measure=20.0),
        FunctionOutput(name="b"),
    )
    share = Want(output="b", of="a", share=1.0)
    for wants, reason in (
        ((share,), "which stands there"),
        ((share, want("a", 2)), "one moves in turns and the other in mm"),
        ((share, Want(output="a", of="b", share=2.0)), "in a circle"),
    ):
        box = FunctionBox(outputs=outputs, positions=(FunctionPosition(name="1", wants=wants),))
        problems = arrange(VEHICLE, box).problems
        assert any(reason in problem for problem in problems)


def test_travel_a_turn() -> None:
    """Rack travel π m z, screw lead, rope on a spool (reference: any machine elements handbook)."""
    assert travel_per_turn("rack", 16.0)[0] == pytest.approx(50.265, abs=1e-3)
    assert travel_per_turn("spool", 10.0)[0] == pytest.approx(31.416, abs=1e-3)
    assert travel_per_turn("screw", 3.0) == (3.0, "mm")
    assert travel_per_turn("ring", 4.0) == (0.25, "turns")
    assert travel_per_turn("rotation", 9.0) == (1.0, "turns")


RATIOS = st.sampled_from([1, 1.5, 2, 3, 4, 5, 6, 9])


@st.composite
def tables(draw: st.DrawFn) -> FunctionBox:
    """Draw tables that the kit's ratios allow, with any ways of the motor."""
    names = [f"o{n}" for n in range(draw(st.integers(1, 3)))]
    outputs = [FunctionOutput(name=n, one_way=draw(st.booleans())) for n in names]
    signs = {n: draw(st.sampled_from([1, -1])) for n in names}
    positions = []
    for number in range(draw(st.integers(1, 3))):
        wants = [
            want(
                o.name,
                draw(RATIOS) * (signs[o.name] if o.one_way else draw(st.sampled_from([1, -1]))),
                draw(st.sampled_from(["both", "forward", "backward"])),
            )
            for o in outputs
            if draw(st.booleans())
        ]
        positions.append(FunctionPosition(name=str(number), wants=tuple(wants)))
    return FunctionBox(outputs=tuple(outputs), positions=tuple(positions))


@settings(max_examples=60, deadline=None)
@given(tables())
def test_any_table_that_is_accepted_is_done_exactly(box: FunctionBox) -> None:
    arrangement, states = solved(box)
    assert arrangement.problems == ()
    assert all(state.right for state in states)


def test_bad_tables_are_refused_in_plain_words() -> None:
    bus = example_vehicle()
    for value, said in (
        (
            {"outputs": [{"name": "a"}, {"name": "a"}]},
            told("crane.two-outputs-are-called", name="a"),
        ),
        (
            {"positions": [{"name": "1", "wants": [{"output": "x", "ratio": 2}]}]},
            told("vehicle.position-there-is-no-output", asked="x"),
        ),
        (
            {
                "outputs": [{"name": "a"}],
                "positions": [{"name": "1", "wants": [{"output": "a", "ratio": 0}]}],
            },
            told("vehicle.give-a-ratio-other-than-zero-or-a-share-of"),
        ),
    ):
        with refuses(DocumentError, said):
            apply_edit(bus, Edit.one("", ("functions",), value))
    assert output_body(OutputId("a")) == "output a"


CELLS = FunctionBox(outputs=(FunctionOutput(name="a"), FunctionOutput(name="left arm")))


@pytest.mark.parametrize(
    ("text", "school", "kept"),
    [
        ("4", RatioConvention.TURNS_IN, "4"),
        (" -2,5  forwards only ", RatioConvention.TURNS_IN, "−2.5 forward"),
        ("0.25", RatioConvention.TURNS_OUT, "0.25"),
        ("−0.25 of left arm backward", RatioConvention.TURNS_IN, "−0.25 of left arm backward"),
        ("12/5", RatioConvention.TURNS_IN, "2.4"),
        ("–", RatioConvention.TURNS_IN, ""),
        ("stands", RatioConvention.TURNS_IN, ""),
    ],
)
def test_cells_are_read_and_written(text: str, school: RatioConvention, kept: str) -> None:
    found = parse_cell(text, box=CELLS, output=OutputId("a"), school=school)
    assert cell_text(found, CELLS, school) == kept
    assert parse_cell(kept, box=CELLS, output=OutputId("a"), school=school) == found


def test_what_cannot_be_read_is_refused_with_a_remedy() -> None:
    unread = told("functions.cannot-be-read", called="a")
    wild = told("functions.is-out-of-range-use-0-001-to-1000", name="a")
    cells = {"fast": unread, "4 sideways": unread, "1e9": unread, "5000": wild, "of arm": unread}
    for text, refusal in cells.items():
        with refuses(InputError, refusal):
            parse_cell(text, box=CELLS, output=OutputId("a"), school=RatioConvention.TURNS_IN)
    assert parse_drive("Screw  4 mm", output="a") == ("screw", 4.0)
    assert parse_drive("ring 7", output="a") == ("ring", 7.0)
    assert parse_drive("shaft", output="a") == ("rotation", 1.0)
    drives = {
        "spool": told("functions.a-takes-a-number-its", output="a"),
        "spool -3": told("functions.must-be-greater-than-zero", output="a"),
        "winch 4": told("functions.is-not-known-write-shaft-spool-20-diameter", output="a"),
    }
    for text, refusal in drives.items():
        with refuses(InputError, refusal):
            parse_drive(text, output="a")
    assert parse_motor("Forwards", position="1") == "forward"
    with refuses(InputError, "functions.write-both-ways-forward-or-backward-not"):
        parse_motor("up", position="1")


def test_edits_keep_the_table_whole() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    vehicle = apply_edit(vehicle, rename_output(vehicle, OutputId("brush"), "broom"))
    vehicle = apply_edit(vehicle, rename_position(vehicle, "hopper", "tip"))
    box = vehicle.functions
    assert box is not None
    assert [box.called(w.output) for w in box.positions[1].wants] == ["fan", "broom"]
    vehicle = apply_edit(vehicle, remove_output(vehicle, OutputId("brush")))
    box = vehicle.functions
    assert box is not None
    assert [len(p.wants) for p in box.positions] == [1, 1, 2, 1]
    for _ in range(MAX_OUTPUTS - 3):
        vehicle = apply_edit(vehicle, add_output(vehicle))
    with refuses(InputError, "functions.a-function-box-has-at-most-outputs-remove"):
        add_output(vehicle)


def test_the_report_and_the_parts_tell_of_the_functions() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    evaluation = evaluate(vehicle)
    data = report(evaluation)["functions"]
    assert data["one_way_shaft"] is True
    assert all(state["right"] for state in data["states"])
    assert len([s for s in data["states"] if not s["passing"]]) == 8
    used = {p.name: p.needed for p in evaluation.parts if "functions" in p.used_by}
    assert used["one-way clutch"] == 2
    plain = evaluate(vehicle.model_copy(update={"functions": None}))
    extra = evaluation.total_gears - plain.total_gears
    assert extra == arrange(vehicle, vehicle.functions or FunctionBox()).gears
    assert report(plain)["functions"] is None


def test_a_kit_of_very_many_sizes_gets_the_shorter_trains() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    size = vehicle.kit.gears[0]
    own = {gear.teeth for gear in vehicle.kit.gears}
    gears = [gear.model_dump() for gear in vehicle.kit.gears] + [
        size.model_copy(update={"teeth": n, "tip_diameter_mm": n + 2.0}).model_dump()
        for n in range(8, 60)
        if n not in own
    ]
    wide = apply_edit(
        vehicle,
        Edit("Many sizes", (Change(("kit", "gears"), gears), Change(("search", "max_pairs"), 3))),
    )
    assert wide.functions is not None
    arrangement = arrange(wide, wide.functions)
    assert arrangement.branches
    assert max(len(branch.train) for branch in arrangement.branches) <= 2


def test_the_sweepers_table_has_its_own_pattern() -> None:
    """The fan alone, with the brush, with brush and pump; the hopper with nothing else."""
    sweeper = example_vehicle("larkholm-street-sweeper")
    result = function_result(sweeper)
    assert result is not None
    assert result.arrangement.problems == ()
    box = sweeper.functions
    assert box is not None
    runs = {p.name: {box.called(w.output) for w in p.wants} for p in box.positions}
    assert list(runs.values()) == [
        {"fan"},
        {"fan", "brush"},
        {"fan", "brush", "water pump"},
        {"hopper"},
    ]
    assert {o.name for o in box.outputs if o.one_way} == {"fan", "brush"}
    assert not [f for f in evaluate(sweeper).findings if f.code.startswith("function")]


def test_a_table_that_asks_for_nothing_claims_nothing() -> None:
    empty = FunctionBox.model_validate(
        {"outputs": [{"id": "fan", "name": "fan"}], "positions": [{"name": "one"}]}
    )
    bus = example_vehicle()
    vehicle = bus.model_copy(update={"functions": empty})
    result = function_result(vehicle)
    assert result is not None
    assert tells(result.words, "functions.nothing-is-asked-for-yet")
    assert result.trials == ()
    assert [p.key for p in evaluate(vehicle).parts] == [p.key for p in evaluate(bus).parts]
