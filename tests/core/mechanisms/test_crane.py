"""Outputs of a crane: speeds by hand, screws after Shigley, ropes by length, power in and out."""

from fractions import Fraction
from math import atan, cos, pi, radians, tan

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.driveline.crane import worm_efficiency, worm_holds
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.ids import OutputId
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.mechanisms.bearings.loads import rubbing_n_mm
from mild_badger.core.mechanisms.crane.describe import (
    describe_crane,
    describe_end,
    describe_line,
    describe_output,
    pace_line,
    step_line,
)
from mild_badger.core.mechanisms.crane.edits import (
    ENDS,
    add_crane,
    add_output,
    remove_crane,
    remove_output,
    rename_output,
    set_end,
    set_worm,
)
from mild_badger.core.mechanisms.crane.ends import (
    lowering_n_mm,
    paid_out_mm,
    raising_n_mm,
    rope_layers,
    rope_settings,
    screw_holds,
)
from mild_badger.core.mechanisms.crane.figures import (
    OutputFigures,
    actual_share,
    crane_figures,
    shares,
)
from mild_badger.core.mechanisms.crane.findings import crane_findings
from mild_badger.core.mechanisms.crane.model import (
    Crane,
    CraneEnd,
    CraneOutput,
    Plain,
    Rack,
    Ring,
    Screw,
    Spool,
    Worm,
)
from mild_badger.core.mechanisms.crane.outputs import drawn_mm, in_order
from mild_badger.core.message import say
from mild_badger.core.ratios.propose import slot_pool
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from telling import Told, refuses, tells, told

BUS = example_vehicle()
RPM = BUS.motor.working_rpm


def pair(driver: int, driven: int, *idlers: int) -> GearPair:
    return GearPair(driver=driver, driven=driven, idlers=idlers)


def crane_of(*outputs: CraneOutput) -> Vehicle:
    return BUS.model_copy(update={"crane": Crane(outputs=outputs)})


def codes(vehicle: Vehicle) -> set[str]:
    return {finding.code for finding in crane_findings(vehicle)}


def one(vehicle: Vehicle, name: str, gear: str | None = None) -> OutputFigures:
    return next(f for f in crane_figures(vehicle, gear, RPM) if f.output.name == name)


SLEWING = CraneOutput(name="slewing", worm=Worm(), end=Ring(pinion=12, teeth=60), keys=4)
CARRIAGE = CraneOutput(
    name="carriage", pairs=(pair(12, 20), pair(12, 20)), loose_on="slewing", end=Screw()
)
WEIGHT = CraneOutput(
    name="counterweight",
    source="carriage",
    pairs=(pair(8, 24),),
    keeps="carriage",
    share=-0.5,
    end=Screw(),
)
HOIST = CraneOutput(name="hoist", source="own input", pairs=(pair(8, 40),), end=Spool(ropes=4))


def test_the_collar_takes_its_share_of_a_screws_torque_by_its_bearing() -> None:
    taken = {}
    for bearing in ("brick", "metal"):
        carried = CARRIAGE.carried.model_copy(update={"bearing": bearing})
        vehicle = crane_of(CARRIAGE.model_copy(update={"carried": carried, "loose_on": None}))
        taken[bearing] = one(vehicle, "carriage").end_n_mm
    screw = Screw()
    thread = raising_n_mm(screw, screw.push_n)
    # μ F d / 2 with the shaft of 4.8 mm: 0.20 in a brick, next to nothing in a ball bearing
    assert taken["brick"] == pytest.approx(thread + 0.20 * screw.push_n * 4.8 / 2)
    assert thread < taken["metal"] < thread * 1.01


def test_a_double_threaded_power_screw() -> None:
    """Shigley, Example 8-1: 30 mm mean, lead 8, μ 0.08, 6.4 kN; a collar of 40 mm, μ 0.08."""
    screw = Screw(pitch_mm=4, starts=2, mean_mm=30, mu=0.08)
    assert raising_n_mm(screw, 6400) == pytest.approx(15_940, abs=10)
    assert lowering_n_mm(screw, 6400) == pytest.approx(-466, abs=5)
    collar = rubbing_n_mm(0.08, 6400, 40)
    assert raising_n_mm(screw, 6400) + collar == pytest.approx(26_180, abs=10)
    assert lowering_n_mm(screw, 6400) + collar == pytest.approx(9_770, abs=10)
    assert not screw_holds(screw)
    assert screw_holds(Screw(pitch_mm=4, starts=1, mean_mm=30, mu=0.08))
    efficiency = 6400 * 8 / (2 * pi * raising_n_mm(screw, 6400))
    assert efficiency == pytest.approx(
        tan(atan(8 / (pi * 30))) / tan(atan(8 / (pi * 30)) + atan(0.08))
    )


@given(st.integers(1, 6), st.floats(4, 40), st.floats(0, 0.6), st.floats(0.3, 3))
def test_a_worm_passes_on_what_an_inclined_plane_does(
    starts: int, mean: float, mu: float, module: float
) -> None:
    """η = tan γ / tan(γ + φ), tan φ = μ / cos α: the inclined plane of any book on mechanics."""
    worm = Worm(starts=starts, mean_mm=mean, mu=mu)
    lead, rubbing = atan(starts * module / mean), atan(mu / cos(radians(20)))
    if lead + rubbing < radians(85):
        plane = tan(lead) / tan(lead + rubbing)
        assert worm_efficiency(worm, module) == pytest.approx(max(plane, 0.01), rel=1e-9)
    assert worm_holds(worm, module) == (tan(lead) <= tan(rubbing))


def test_a_worm_that_is_driven_back_is_told() -> None:
    steep = SLEWING.model_copy(update={"worm": Worm(starts=4, mean_mm=8.0, mu=0.05)})
    for output, back in ((SLEWING, False), (steep, True)):
        vehicle = crane_of(output)
        figures = crane_figures(vehicle, None, RPM)
        said = describe_output(vehicle, figures, figures[0].output.id)
        assert tells(said, "crane.the-worm-is-driven-back") == back
        assert bool(figures[0].holds) != back


def test_every_output_turns_as_its_gears_say() -> None:
    vehicle = crane_of(SLEWING, CARRIAGE, WEIGHT, HOIST)
    assert one(vehicle, "slewing").turns == Fraction(-1, 120)  # worm 1:24, then 12:60 outside
    assert one(vehicle, "slewing").input_turns == -120
    assert one(vehicle, "slewing").rate == pytest.approx(-RPM / 120 * 360 / 60)
    assert one(vehicle, "carriage").turns == Fraction(9, 25)
    assert one(vehicle, "carriage").rate == pytest.approx(RPM * 9 / 25 * 2 / 60)
    assert one(vehicle, "counterweight").turns == Fraction(-3, 25)
    assert one(vehicle, "hoist").turns == Fraction(-1, 5)
    assert one(vehicle, "hoist").input_rpm == 60
    figures = crane_figures(vehicle, None, RPM)
    assert shares(figures, OutputId("carriage")) == {
        "carriage": pytest.approx(1),
        "counterweight": pytest.approx(-1 / 3),
        "hoist": pytest.approx(one(vehicle, "hoist").rate / one(vehicle, "carriage").rate),
    }
    said = describe_output(vehicle, figures, OutputId("carriage"))
    assert tells(said, "crane.speed-ratio-to-the-other-outputs")
    inside = crane_of(SLEWING.model_copy(update={"end": Ring(pinion=12, teeth=60, internal=True)}))
    assert one(inside, "slewing").turns == Fraction(1, 120)


def test_an_output_behind_the_box_turns_with_the_gear() -> None:
    vehicle = crane_of(CraneOutput(name="winch", source="box output", pairs=(pair(8, 24),)))
    assert one(vehicle, "winch").turns is None
    for gear in evaluate(vehicle).gears:
        assert gear.ratio is not None
        assert one(vehicle, "winch", gear.name).turns == -1 / (3 * gear.ratio)


ends = st.one_of(
    st.builds(
        Ring,
        pinion=st.integers(8, 20),
        teeth=st.integers(40, 90),
        internal=st.booleans(),
        drag_n_mm=st.floats(1, 200),
    ),
    st.builds(
        Screw,
        pitch_mm=st.floats(0.5, 4),
        starts=st.integers(1, 3),
        push_n=st.floats(0.1, 9),
        screws=st.integers(1, 4),
    ),
    st.builds(Spool, weight_n=st.floats(0.1, 9), falls=st.integers(1, 4)),
    st.builds(Rack, push_n=st.floats(0.1, 9)),
    st.builds(Plain, torque_n_mm=st.floats(0.1, 50)),
)
trains = st.lists(st.builds(pair, st.integers(8, 40), st.integers(8, 40)), max_size=3).map(tuple)


@settings(max_examples=40, deadline=None)
@given(trains, st.none() | st.builds(Worm, starts=st.integers(1, 4)), ends, st.booleans())
def test_power_in_is_power_out_and_losses(
    pairs: tuple[GearPair, ...], worm: Worm | None, end: CraneEnd, own: bool
) -> None:
    vehicle = crane_of(
        CraneOutput(
            name="a", pairs=pairs, worm=worm, end=end, source="own input" if own else "motor"
        )
    )
    found = one(vehicle, "a")
    assert found.input_n_mm is not None
    assert found.lost_percent is not None
    put_in = found.input_n_mm * abs(found.input_rpm)
    out = found.end_n_mm * abs(found.end_rpm)
    assert out == pytest.approx(put_in * (1 - found.lost_percent / 100), rel=1e-6)
    keeps = (1 - BUS.kit.mesh_loss) ** (len(pairs) + isinstance(end, Ring))
    if worm is not None:
        keeps *= worm_efficiency(worm, BUS.kit.module_mm)
    assert out / put_in == pytest.approx(keeps, rel=1e-6)
    if isinstance(end, Spool | Rack):  # no loss of their own: torque times turn is force times way
        force = end.weight_n if isinstance(end, Spool) else end.push_n
        assert force * abs(found.rate) * 60 == pytest.approx(2 * pi * out, rel=1e-9)
    if isinstance(end, Screw):  # the thread takes its part
        assert end.push_n * abs(found.rate) * 60 < 2 * pi * out


@given(st.floats(5, 40), st.floats(0.3, 3), st.floats(1, 30), st.floats(10, 4000))
def test_all_of_a_rope_is_wound_and_paid_out(
    drum: float, rope: float, turns: float, length: float
) -> None:
    spool = Spool(drum_mm=drum, rope_mm=rope, width_mm=turns * rope, rope_length_mm=length)
    layers = rope_layers(spool)
    assert sum(layer.wound_mm for layer in layers) == pytest.approx(length)
    assert [layer.middle_mm for layer in layers] == pytest.approx(
        [drum + rope * (2 * n + 1) for n in range(len(layers))]
    )
    whole = sum(layer.wound_mm / (pi * layer.middle_mm) for layer in layers)
    assert paid_out_mm(spool, 0, whole) == pytest.approx(length)
    if layers[-1].wound_mm > pi * layers[-1].middle_mm:
        assert paid_out_mm(spool, 0, 0.5) == pytest.approx(pi * layers[-1].middle_mm / 2)


def test_ropes_of_unlike_drums_part_and_are_adjusted() -> None:
    spool = Spool(ropes=2, made_mm=(16.0, 16.2), rope_length_mm=500, width_mm=40)
    found = rope_settings(spool)  # one layer: both pay out the turns of the larger drum
    turns = 500 / (pi * 17.2)
    assert found.apart == pytest.approx(turns * pi * 0.2, rel=1e-6)
    assert list(found.best) == pytest.approx([found.apart / 4, -found.apart / 4])
    vehicle = crane_of(CraneOutput(name="lift", worm=Worm(), end=spool))
    fault = next(f for f in crane_findings(vehicle) if f.code == "ropes-out-of-step")
    assert fault.mend is not None
    crane = apply_edit(vehicle, fault.mend).crane
    assert crane is not None
    end = crane.outputs[0].end
    assert isinstance(end, Spool)
    assert rope_settings(end).apart == pytest.approx(found.apart / 2, abs=0.02)
    words = describe_output(vehicle, crane_figures(vehicle, None, RPM), OutputId("lift"))
    assert tells(
        plain(words), "crane.the-ropes-differ-by-up-to-well-adjusted-by", ropes="2", apart="5.81 mm"
    )
    short = spool.model_copy(update={"adjust_range_mm": 0.5})
    assert "adjuster-short" in codes(crane_of(CraneOutput(name="lift", worm=Worm(), end=short)))


def test_a_gear_loose_on_another_shaft_is_told_from_a_glued_one() -> None:
    vehicle = crane_of(SLEWING, CARRIAGE)
    loose = one(vehicle, "carriage").loose
    assert loose is not None
    assert loose.rpm == pytest.approx(RPM * abs(-12 / 20 - 1 / 24))
    assert tells(loose.glued, "crane.glued-to-it-by-mistake-the-drive-locks")
    alone = CARRIAGE.model_copy(update={"loose_on": "hoist"})
    other = one(crane_of(alone, HOIST), "carriage").loose
    assert other is not None
    assert tells(other.glued, "crane.glued-to-it-by-mistake-turns-along", name="hoist")


def test_a_coupling_without_one_key_is_off_by_a_key() -> None:
    vehicle = crane_of(
        SLEWING,
        WEIGHT.model_copy(update={"source": "motor", "keeps": None, "keys": 3, "coupled_after": 1}),
    )
    assert one(vehicle, "slewing").key_off == pytest.approx(360 / 120 / 4)
    assert one(vehicle, "counterweight").key_off == pytest.approx(2.0 / 3)  # a lead, three ways
    fault = next(f for f in crane_findings(vehicle) if f.code == "coupling-not-keyed")
    assert fault.mend is not None
    mended = apply_edit(vehicle, fault.mend)
    assert one(mended, "slewing").key_off == 0
    assert tells(
        describe_output(mended, crane_figures(mended, None, RPM), OutputId("slewing")),
        "crane.the-coupling-can-be-assembled-in-one",
    )


def test_a_counterweight_out_of_step_is_mended_by_the_nearest_train() -> None:
    slot_pool(BUS)
    vehicle = crane_of(SLEWING, CARRIAGE, WEIGHT)
    fault = next(f for f in crane_findings(vehicle) if f.code == "out-of-step")
    assert fault.figure == pytest.approx(-1 / 3)
    assert fault.mend is not None
    mended = apply_edit(vehicle, fault.mend)
    assert mended.crane is not None
    assert actual_share(crane_figures(mended, None, RPM), mended.crane.outputs[2]) == pytest.approx(
        -0.5
    )
    assert "out-of-step" not in codes(mended)
    other = WEIGHT.model_copy(update={"share": 0.5})
    turned = next(
        f
        for f in crane_findings(crane_of(CARRIAGE.model_copy(update={"loose_on": None}), other))
        if f.code == "out-of-step"
    )
    assert turned.mend is not None
    right = apply_edit(crane_of(CARRIAGE.model_copy(update={"loose_on": None}), other), turned.mend)
    assert right.crane is not None
    share = actual_share(crane_figures(right, None, RPM), right.crane.outputs[1])
    assert share == pytest.approx(0.5)
    ring = WEIGHT.model_copy(update={"source": "motor", "keeps": "slewing"})
    assert "no-share" in codes(crane_of(SLEWING, ring))


@pytest.mark.parametrize(
    ("output", "code"),
    [
        (CraneOutput(name="a", end=Spool()), "load-runs-back"),
        (CraneOutput(name="a", end=Screw(pitch_mm=6, starts=2)), "screw-runs-back"),
        (CraneOutput(name="a", end=Screw(pitch_mm=40, mu=0.9)), "thread-jams"),
        (CraneOutput(name="a", end=Spool(rope_length_mm=9000)), "rope-over-flange"),
        (CraneOutput(name="a", end=Plain(torque_n_mm=1e4)), "output-stalls"),
        (HOIST.model_copy(update={"loose_on": "slewing"}), "nothing-loose"),
    ],
)
def test_what_cannot_be_is_a_finding(output: CraneOutput, code: str) -> None:
    assert code in codes(crane_of(output, SLEWING))
    assert code not in codes(crane_of(SLEWING.model_copy(update={"keys": 1})))


def test_all_at_once_may_stall_what_each_alone_does_not() -> None:
    torque = 0.7 * BUS.motor.shaft_stall_n_mm
    both = [CraneOutput(name=n, end=Plain(torque_n_mm=torque)) for n in "ab"]
    assert codes(crane_of(both[0])) == set()
    assert codes(crane_of(*both)) == {"outputs-stall"}
    words = describe_crane(crane_of(*both), crane_figures(crane_of(*both), None, RPM))
    assert tells(
        plain(words),
        "crane.all-outputs-on-the-motor-together-need-of-at",
        asked="168.0",
        stall="120 N·mm",
    )


@pytest.mark.parametrize(("kit", "bearing"), [("brick-grid", "brick"), ("wood-shop", "wood")])
def test_new_outputs_have_bearings_of_what_the_machine_is_made_of(kit: str, bearing: str) -> None:
    blank = blank_vehicle(shipped_kit(kit))
    vehicle = apply_edit(blank, add_crane(blank))
    more = add_output(vehicle, "spool")
    assert more is not None
    crane = apply_edit(vehicle, more).crane
    assert crane is not None
    for output in crane.outputs:
        carried = output.carried
        assert (carried.bearing, carried.shaft_mm) == (bearing, blank.kit.shaft_diameter_mm)


def test_outputs_are_planned_named_ended_and_taken_away() -> None:
    vehicle = apply_edit(BUS, add_crane(BUS))
    for kind, (words, _) in ENDS.items():
        assert vehicle.crane is not None
        edit = add_output(vehicle, kind)
        assert edit is not None
        vehicle = apply_edit(vehicle, edit)
        assert vehicle.crane is not None
        last = vehicle.crane.outputs[-1]
        assert last.end.kind == kind
        assert last.name == words
        assert describe_end(last)
        vehicle = apply_edit(vehicle, set_end(vehicle.crane, last.id, kind))
    assert vehicle.crane is not None
    assert len(vehicle.crane.outputs) == 6
    full = Crane(outputs=tuple(CraneOutput(name=f"o{n}") for n in range(12)))
    assert add_output(BUS.model_copy(update={"crane": full}), "ring") is None
    vehicle = crane_of(SLEWING, CARRIAGE, WEIGHT)
    assert vehicle.crane is not None
    carriage = vehicle.crane.outputs[1].id
    named = apply_edit(vehicle, rename_output(vehicle.crane, carriage, "trolley")).crane
    assert named is not None
    assert named.outputs[2].source == named.outputs[2].keeps == carriage
    assert named.called(carriage) == "trolley"
    gone = apply_edit(vehicle, remove_output(vehicle, carriage)).crane
    assert gone is not None
    assert [(o.name, o.source, o.keeps) for o in gone.outputs] == [
        ("slewing", "motor", None),
        ("counterweight", "motor", None),
    ]
    bare = apply_edit(vehicle, set_worm(vehicle.crane, OutputId("slewing"), worm=False))
    assert one(bare, "slewing").turns == Fraction(-1, 5)
    assert apply_edit(bare, remove_crane()).crane is None


@pytest.mark.parametrize(
    ("outputs", "words"),
    [
        ([{"name": "a"}, {"name": "a"}], told("crane.two-outputs-are-called", name="a")),
        (
            [{"name": "a", "source": "b"}],
            told("crane.which-is-not-there", words="is", named="driven from b"),
        ),
        (
            [{"name": "a", "source": "b"}, {"name": "b", "source": "a"}],
            told("crane.hangs-on-itself"),
        ),
        (
            [{"id": "motor", "name": "a", "source": "own input"}],
            told("crane.an-outputs-id-cannot-be-that-of-an-input"),
        ),
        (
            [{"name": "a", "end": {"kind": "spool", "ropes": 2, "made_mm": [3]}}],
            told("crane.ropes-take-as-many-are-given", name="drums"),
        ),
        (
            [
                {
                    "name": "a",
                    "end": {"kind": "spool", "drum_mm": 1e-3, "width_mm": 1e-3, "rope_mm": 1e-3},
                }
            ],
            told("crane.of-rope-would-lie-in-more-than-layers-take-a", max_layers="60"),
        ),
        (
            [{"name": "a", "end": {"kind": "spool", "width_mm": 1, "rope_mm": 2}}],
            told("crane.a-drum-wide-takes-no-turn-of-a-rope-of"),
        ),
        (
            [{"name": "a", "end": {"kind": "ring", "teeth": 12, "internal": True}}],
            told("crane.a-pinion-of-teeth-has-no-room-in-a-ring-of"),
        ),
    ],
)
def test_what_does_not_hang_together_is_refused(
    outputs: list[dict[str, object]], words: Told
) -> None:
    with refuses(ValidationError, words):
        Crane.model_validate({"outputs": outputs})


def test_parts_tell_loose_gears_from_glued_ones() -> None:
    before = {line.key: line.needed for line in parts_needed(BUS)}
    after = {line.key: line.needed for line in parts_needed(crane_of(SLEWING, CARRIAGE, HOIST))}
    more = {key: number - before.get(key, 0) for key, number in after.items()}
    assert more["free", 20] == more["free", 12] == 1  # between the carriage's pairs
    assert more["fixed", 12] == 2  # its first driver, and the slewing pinion
    assert more["fixed", 20] == 1
    assert more["shaft", 0] == 1 + 1 + 2  # slewing, carriage, hoist with its own input
    assert (more["worm", 1], more["worm wheel", 24], more["slewing ring", 60]) == (1, 1, 1)
    assert (more["lead screw", 20], more["drum", 160], more["rope", 12000]) == (1, 4, 4)
    assert (more["coupling half", 0], more["brick bearing", 48], more["adjuster", 0]) == (2, 6, 4)
    names = {plain(line.name) for line in parts_needed(crane_of(SLEWING, HOIST))}
    assert {"worm, 1 start", "slewing ring, 60 teeth", "rope, 1200 mm"} <= names


def test_short_lines_say_pace_and_step() -> None:
    vehicle = crane_of(WEIGHT, SLEWING, CARRIAGE, HOIST)
    figures = crane_figures(vehicle, None, RPM)
    assert [f.output.name for f in in_order(figures)] == [
        "slewing",
        "carriage",
        "counterweight",
        "hoist",
    ]
    carriage, weight = one(vehicle, "carriage"), one(vehicle, "counterweight")
    assert plain(pace_line(carriage)) == f"+ {RPM * 9 / 25 * 2 / 60:.1f} mm/s"
    assert pace_line(weight).startswith("− ")
    assert " … " in pace_line(one(vehicle, "hoist"))  # two layers of rope
    # 120 mm of way at that pace
    assert step_line(carriage, figures)[0] == (
        f"2.778 turns in for one · {120 / (RPM * 9 / 25 * 2 / 60):.0f} s"
    )
    assert tells(
        step_line(weight, figures)[-1],
        "crane.of-asked",
        here="−0.333",
        called="carriage",
        asked="−0.5",
    )
    boxed = crane_of(CraneOutput(name="w", source="box output"))
    assert pace_line(one(boxed, "w")) == "stands"
    assert step_line(one(boxed, "w"), ())[0] == say("crane.drive-it-or-engage-a-gear")
    assert describe_line(one(boxed, "w")) == "w, plain shaft: stands"
    # 12 and 20 in mesh, then again: (6 + 16 + 16 + 10) teeth and the first one's other half
    assert drawn_mm(CARRIAGE, 1.0) == (6 + 16 + 16 + 10, 20)
    assert drawn_mm(SLEWING, 1.0) == (0, 0)
