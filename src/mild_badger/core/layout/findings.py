"""What is wrong with how a placed box is held, as findings."""

from collections.abc import Iterator
from functools import lru_cache

from mild_badger.core.architectures.places import Series
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.layout.bearings import bearing_findings
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.layout.lever_findings import lever_findings
from mild_badger.core.layout.reason import why_no_functions
from mild_badger.core.layout.shaft_deflection import (
    function_holds_n_mm,
    separations,
    share_held,
    weakest,
)
from mild_badger.core.layout.verify import verify_forks, verify_layout, verify_stack
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.brackets import posts_of
from mild_badger.core.structure.drums import drums_of
from mild_badger.core.structure.forks import Fork, forks_of, missing_forks
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.structure.pins import pin_findings
from mild_badger.core.structure.plates import plate_findings, plates_of
from mild_badger.core.structure.sensor_discs import disc_places
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import (
    STUB_DIAMETERS,
    output_rod,
    shaft_cuts,
    stub_mm,
    unequal,
)
from mild_badger.core.structure.stack import Stack
from mild_badger.core.structure.walls import long_ties, walls_of
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve

__all__ = ["layout_findings"]


def layout_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Check a layout, and where it is sound how it is held; nothing where there is none."""
    yield from _found(vehicle.model_copy(update={"name": "box", "notes": ""}))


@lru_cache(maxsize=8)
def _found(vehicle: Vehicle) -> tuple[Finding, ...]:
    """Check once however often it is asked; what does not bear on it is left out."""
    return tuple(_findings(vehicle))


def _no_place(vehicle: Vehicle) -> Iterator[Finding]:
    """Say that the shafts of a box with several distances find no place together."""
    places = architecture_of(vehicle.box).places(vehicle.box)
    if not isinstance(places, Series):
        return
    pairs = [pair for bay in places.bays for stage in bay for pair in stage.pairs]
    if pairs and all(stage.pairs for bay in places.bays for stage in bay):
        yield Finding(
            Severity.WARNING,
            "shafts-find-no-place",
            ("layout",),
            say("layout.the-shafts-find-no-place-together"),
            say("layout.the-distances-of-the-stages-do-not-meet"),
        )


def _function_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say that a function box that was placed has no place any more, or a fork none."""
    box, stack = vehicle.functions, function_stack(vehicle)
    if box is not None and box.places and stack is None and arrange(vehicle, box).branches:
        yield Finding(
            Severity.WARNING,
            "functions-without-place",
            ("functions",),
            say("layout.the-function-box-has-no-place-any-more"),
            why_no_functions(vehicle),
        )
    if stack is None:
        return
    for sleeve in missing_forks(stack, forks_of(vehicle, stack)):
        yield Finding(
            Severity.WARNING,
            "function-fork-missing",
            ("functions", sleeve),
            say("layout.no-room-for-a-fork-in-the-function-box", sleeve=describe_sleeve(sleeve)),
            say("layout.place-the-function-box-again-with-more-room"),
        )
    stall = box.stall_n_mm if box is not None else None
    held = function_holds_n_mm(vehicle, stack) if stall is not None else None
    if held is not None and stall is not None and held[0] < stall:
        torque, row = held
        yield Finding(
            Severity.WARNING,
            "function-skips-at-stall",
            ("functions",),
            say("layout.the-function-box-skips-teeth-before-its-motor-stalls"),
            say(
                "layout.with-let-go-first",
                one=row.teeth[0],
                other=row.teeth[1],
                where=row.gear,
                torque=in_n_mm(torque, 0),
                percent=100 * torque / stall,
            ),
            figure=torque,
            limit=stall,
            unit="N·mm",
        )


def _findings(vehicle: Vehicle) -> Iterator[Finding]:
    yield from _function_findings(vehicle)
    yield from _box_findings(vehicle)


def _box_findings(vehicle: Vehicle) -> Iterator[Finding]:
    stack = stack_for(vehicle)
    if stack is None:
        yield from _no_place(vehicle)
        return
    free = vehicle.box.free_trains
    wrong = verify_layout(vehicle) if free else verify_stack(vehicle, stack)
    yield from wrong
    yield from pin_findings(vehicle, stack)
    yield from _budgets(vehicle, stack)
    if wrong:
        return
    forks = forks_of(vehicle, stack)
    drums = drums_of(vehicle, stack, forks)
    for sleeve in drums.missing if drums is not None else ():
        if sleeve in {fork.column for fork in forks}:
            yield Finding(
                Severity.WARNING,
                "no-way-to-the-drum",
                ("layout", sleeve),
                say(
                    "layout.the-follower-of-finds-no-way-to-the-drum",
                    sleeve=describe_sleeve(sleeve),
                ),
                say("layout.tracks-need-a-longer-box-or-a-smaller-pitch"),
            )
    for sleeve in missing_forks(stack, forks):
        yield Finding(
            Severity.ERROR,
            "no-room-for-fork",
            ("layout", sleeve),
            say("layout.no-fork-reaches", sleeve=describe_sleeve(sleeve)),
            say("layout.no-place-near-the-sleeve-is-free-for-a-rail"),
        )
    yield from verify_forks(vehicle, stack, forks)
    yield from lever_findings(vehicle, stack, forks)
    for disc in disc_places(vehicle, stack, forks):
        if disc.radius_mm is None:
            yield Finding(
                Severity.WARNING,
                "no-room-for-disc",
                ("layout", disc.shaft),
                say("layout.no-room-for-the-disc-on", shaft=describe_shaft(vehicle, disc.shaft)),
                say("layout.a-disc-needs-a-longer-stub-and-room-beside-it"),
            )
    yield from _lengths(vehicle, stack)
    yield from _stubs(vehicle, stack)
    if vehicle.kit.any_seat:
        yield from plate_findings(vehicle, plates_of(vehicle, stack, forks))
        yield from _hanging(vehicle, stack, forks)
    else:
        yield from _beams(vehicle, stack, forks)
    yield from bearing_findings(vehicle, stack)
    yield from _pushed(vehicle, stack)


def _hanging(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Finding]:
    """Say which posts no tie rod is near enough for."""
    for post in posts_of(vehicle, stack, forks):
        if post.hangs:
            yield Finding(
                Severity.WARNING,
                "post-hangs",
                ("layout", post.shaft),
                say("layout.nothing-holds-the-post-on", shaft=describe_shaft(vehicle, post.shaft)),
                say("layout.no-tie-rod-is-in-clear-reach-of-it"),
            )


def _budgets(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Hold the stack's length and its centre distances against what the builder allows."""
    yield from _too_far(vehicle, stack)
    limit = vehicle.frame.max_stack_mm
    if limit is not None and stack.length_mm > limit + 1e-6:
        widest = max(
            range(len(stack.slabs)), key=lambda n: stack.edges_mm[n + 1] - stack.edges_mm[n]
        )
        yield Finding(
            Severity.WARNING,
            "stack-too-long",
            ("layout",),
            say("layout.the-stack-is-too-long"),
            say(
                "layout.the-stack-is-long-over-the-outer-walls-more",
                length_mm=in_mm(stack.length_mm, 1),
                length_mm_2=in_mm(stack.length_mm - limit, 1),
                slabs=stack.slabs[widest],
                edges_mm=in_mm(stack.edges_mm[widest + 1] - stack.edges_mm[widest], 1),
            ),
            figure=stack.length_mm,
            limit=limit,
            unit="mm",
        )


def _too_far(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find meshes whose shafts stand farther apart than the greatest centre distance."""
    limit = vehicle.search.max_centre_mm
    if limit is None:
        return
    shafts = {disc.body: disc.shaft for disc in stack.discs}
    for equation in assemble(vehicle).equations:
        if equation.kind is not Coupling.MESH or not all(b in shafts for b in equation.bodies):
            continue
        one, other = equation.bodies
        apart = stack.apart_mm(shafts[one], shafts[other])
        if apart > limit + 1e-6:
            yield Finding(
                Severity.WARNING,
                "centre-too-far",
                ("layout",),
                say("layout.and-are-too-far-apart", one=one, other=other),
                say(
                    "layout.the-shafts-are-apart-more-than-the-greatest",
                    apart=in_mm(apart, 1),
                    apart_2=in_mm(apart - limit, 1),
                ),
                figure=apart,
                limit=limit,
                unit="mm",
            )


def _lengths(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find shafts that no length of the kit reaches over, and those that stand out unequally."""
    cuts = shaft_cuts(vehicle, stack)
    unit = vehicle.kit.grid_unit_mm
    for cut in cuts:
        if cut.length_mm is None:
            longest = max(vehicle.kit.shaft_lengths_u, default=0)
            yield Finding(
                Severity.ERROR,
                "shaft-too-long",
                ("layout",),
                say("layout.shaft-is-too-long", shaft_letter=shaft_letter(vehicle, cut.name)),
                say(
                    "layout.the-shaft-must-be-u-long-the-kits-longest",
                    needed_mm=cut.needed_mm / unit,
                    longest=longest,
                ),
                figure=cut.needed_mm / unit,
                limit=float(longest),
                unit="u",
            )
    out = unequal(cuts, vehicle.frame.equal_within_mm)
    if out:
        most = max(cut.overhang_mm for cut in out)
        yield Finding(
            Severity.NOTE,
            "shafts-unequal",
            ("layout",),
            say(
                "layout.shaft-out-unevenly",
                shafts=say_count("layout.shafts-stick", len(out)),
            ),
            say(
                "layout.up-to-more-than-the-rest-no-shorter-shaft-of",
                shaft=say_count("noun.shaft-first", len(out)),
                listed=", ".join(shaft_letter(vehicle, cut.name) for cut in out[:4]),
                value=say("layout.and-others") if len(out) > 4 else "",
                most=in_mm(most),
            ),
            figure=most,
            limit=vehicle.frame.equal_within_mm,
            unit="mm",
        )


def _stubs(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find ends of the box that nothing can be coupled to."""
    stub = stub_mm(vehicle)
    if stub <= 0:
        yield Finding(
            Severity.WARNING,
            "nothing-to-couple-to",
            ("layout",),
            say("layout.input-and-output-are-cut-flush"),
            say("layout.leave-a-stub-for-motor-crank-or-coupling"),
            figure=stub,
            limit=STUB_DIAMETERS * vehicle.kit.shaft_diameter_mm,
            unit="mm",
            mend=Edit.one(say("layout.leave-stubs"), ("frame", "stub_mm"), None),
        )
    if output_rod(vehicle, stack) is None:
        yield Finding(
            Severity.WARNING,
            "nothing-to-couple-to",
            ("layout",),
            say("layout.no-output-shaft-leaves-the-box"),
            say("layout.every-tied-shaft-meets-gears-of-the-outer-layers"),
        )


def _beams(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Finding]:
    longest = max(vehicle.kit.beam_lengths_u, default=0)
    for wall in walls_of(vehicle, stack, forks):
        if wall.loose:
            yield Finding(
                Severity.NOTE,
                "beam-too-long",
                ("layout",),
                say("layout.the-needs-joined-beams", name=wall.name),
                say("layout.one-row-of-beams-is-longer-than-the-kits", longest=longest),
            )
        if wall.between:
            yield Finding(
                Severity.NOTE,
                "holes-between",
                ("layout",),
                say("layout.the-has-holes-between-the-grids-points", name=wall.name),
                say(
                    "layout.set-half-a-unit-off-by-an-offset-beam",
                    listed=", ".join(wall.between[:4]),
                ),
            )
    ties = long_ties(vehicle, stack)
    if None in ties:
        yield Finding(
            Severity.NOTE,
            "beam-too-long",
            ("layout",),
            say("layout.the-walls-are-tied-by-joined-beams"),
            say(
                "layout.along-the-box-u-must-be-spanned-the-kits",
                length_mm=stack.length_mm / vehicle.kit.grid_unit_mm,
                longest=longest,
            ),
        )


def _pushed(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find gears that the motor's stall torque pushes out of mesh, and those far from supports."""
    rows = separations(vehicle, stack)
    for row in weakest(rows):
        if row.skips:
            one, other = row.teeth
            shares = (share_held(mesh) for mesh in rows if mesh.gear == row.gear)
            least = min((share for share in shares if share is not None), default=0.0)
            torque = vehicle.motor.shaft_stall_n_mm * least
            yield Finding(
                Severity.WARNING,
                "skips-at-stall",
                (row.gear, "layout"),
                say(
                    "layout.gear-skips-teeth-before-the-motor-stalls",
                    gear_name=vehicle.gear_name(row.gear),
                ),
                say(
                    "layout.with-in-push-the-shafts-apart-an-estimate",
                    one=one,
                    other=other,
                    train_title=vehicle.train_title(row.slab),
                    force_n=in_n(row.force_n, 0),
                    apart_mm=in_mm(row.apart_mm, 2),
                    supported_mm=in_mm(row.supported_mm or 0, 2),
                )
                + say(
                    "layout.it-holds-up-to-a-torque",
                    torque=in_n_mm(torque, 0),
                    percent=100 * least,
                    current=vehicle.motor.current_a(torque),
                ),
                figure=row.contact,
                limit=vehicle.kit.least_contact,
            )
    far = [row for row in rows if row.far_mm > vehicle.frame.far_mm + 1e-6]
    if far:
        worst = max(far, key=lambda row: row.far_mm)
        yield Finding(
            Severity.NOTE,
            "far-from-support",
            (worst.gear, "layout"),
            say(
                "layout.a-gear-of-train-is-far-from-the-nearest",
                gear_name=vehicle.gear_name(worst.gear),
            ),
            say(
                "layout.with-in-the-limit-is-put-a-wall-nearer-to",
                teeth=worst.teeth[0],
                teeth_2=worst.teeth[1],
                train_title=vehicle.train_title(worst.slab),
                far_mm=in_mm(worst.far_mm, 0),
                far_mm_2=in_mm(vehicle.frame.far_mm),
            ),
            figure=worst.far_mm,
            limit=vehicle.frame.far_mm,
            unit="mm",
        )
