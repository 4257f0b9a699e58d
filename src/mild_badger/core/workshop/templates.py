"""The templates that a vehicle takes: gears that are made, walls, forks, spacers, test strip."""

from collections import Counter
from collections.abc import Iterator
from functools import partial
from math import ceil, hypot

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm, in_module, plain
from mild_badger.core.kit.part_sizes import spacer_radius_mm
from mild_badger.core.labels import Box, LabelAsk, place_labels
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.mesh.centres import centre_of, shift_at
from mild_badger.core.mesh.shift import undercut_limit
from mild_badger.core.message import say
from mild_badger.core.structure.brackets import Bracket, brackets_of
from mild_badger.core.structure.forks import Fork, forks_of
from mild_badger.core.structure.names import describe_shaft
from mild_badger.core.structure.plates import Plate, plates_of
from mild_badger.core.structure.shaft_box import HUB_DIAMETERS, stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.fit_strip import fit_strip
from mild_badger.core.templates.gear_shape import GearForm
from mild_badger.core.templates.gear_template import GearCut, cut_gear, own_template
from mild_badger.core.templates.kerf import with_kerf
from mild_badger.core.templates.segments import glue_up, segment_plan, segment_template
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.kit import Bore
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed, word
from mild_badger.core.workshop.bevel_templates import bevel_templates
from mild_badger.core.workshop.dogs import dog_cup, dog_jig, dog_star, input_hub
from mild_badger.core.workshop.flat_pieces import flat_pieces
from mild_badger.core.workshop.made_pieces import made_pieces
from mild_badger.core.workshop.parts import parts_needed

__all__ = ["drawn", "template_of", "templates_of"]

MARGIN_MM, NAME_MM, NAME_WIDE = 6.0, 2.0, 0.68


def templates_of(vehicle: Vehicle) -> tuple[Template, ...]:
    """List what is to be made; a brick kit's gears and walls are bought, the rest can be drawn."""
    return (
        *_gears_and_spacers(vehicle),
        *_frame(vehicle),
        *flat_pieces(vehicle),
        *_dogs(vehicle),
        *bevel_templates(vehicle),
        *made_pieces(vehicle),
        *(template for mechanism in MECHANISMS for template in mechanism.templates(vehicle)),
        *_trial_pieces(vehicle),
    )


def template_of(vehicle: Vehicle, key: str, *, kerf: bool = True) -> Drawing:
    """Draw a template by its key, cut lines moved by half the kerf unless that is put off.

    Raises
    ------
    InputError
        There is no such template, or it cannot be made to these figures.
    """
    template = next((t for t in templates_of(vehicle) if t.key == key), None)
    if template is None:
        raise InputError(say("workshop.this-vehicle-takes-no-template-see-the-list", key=key))
    return drawn(vehicle, template, kerf=kerf)


def drawn(vehicle: Vehicle, template: Template, *, kerf: bool = True) -> Drawing:
    """Draw a template of the list.

    Raises
    ------
    InputError
        It cannot be made to these figures.
    """
    drawing = template.draw(vehicle)
    return with_kerf(drawing, vehicle.making.kerf_mm) if kerf else drawing


def _gears_and_spacers(vehicle: Vehicle) -> Iterator[Template]:
    kit, shifted = vehicle.kit, _shifted(vehicle)
    for part in parts_needed(vehicle):
        kind, size = part.key
        if kind in ("fixed", "free") and part.made and kit.made is not None:
            bore: Bore = "fixed" if kind == "fixed" else "free"
            plain, thick = part.needed, kit.made.face_width_mm
            for (teeth, its_bore, shift), count in sorted(shifted.items()):
                if (its_bore, teeth) == part.key:
                    plain -= count
                    words = say("workshop.shifted", name=part.name, shift=signed(shift, "+.3f"))
                    draw = partial(_gear, teeth=size, bore=bore, shift=shift)
                    yield Template(f"gear {size} {kind} {shift:+.4f}", words, count, thick, draw)
            if plain > 0:
                draw = partial(_gear, teeth=size, bore=bore, shift=0.0)
                yield Template(f"gear {size} {kind}", part.name, plain, thick, draw)
        if kind == "spacer":
            draw = partial(_spacer, thick_mm=size / 10)
            yield Template(f"spacer {size}", part.name, part.needed, size / 10, draw, "tube")


def _frame(vehicle: Vehicle) -> Iterator[Template]:
    """List walls, where they are made, and forks."""
    stack = stack_for(vehicle)
    if stack is None:
        return
    forks = forks_of(vehicle, stack)
    plates = plates_of(vehicle, stack, forks) if vehicle.kit.any_seat else ()
    for n, plate in enumerate(plates):
        draw = partial(_wall, plate=plate)
        yield Template(f"wall {n}", word(plate.name), 1, plate.thick_mm, draw)
    if any(kind == "hub" for kind in stack.kinds):
        half = HUB_DIAMETERS * vehicle.kit.shaft_diameter_mm / 2  # two discs, one for each shaft
        words = say("workshop.hub-with-dogs-on-the-inputs-end")
        yield Template("hub", words, 2, half, input_hub)
    for n, bracket in enumerate(brackets_of(vehicle, stack, forks)):
        words = say("workshop.bracket-of", shaft=describe_shaft(vehicle, bracket.shaft))
        draw = partial(_bracket, bracket=bracket, stack=stack)
        yield Template(f"bracket {n}", words, 1, vehicle.frame.wall_mm, draw)
    for n, fork in enumerate(forks):
        words = say("workshop.fork-of-3", shaft=describe_shaft(vehicle, fork.column))
        draw = partial(_fork, fork=fork)
        yield Template(f"fork {n}", words, 1, vehicle.frame.fork_mm, draw)


def _trial_pieces(vehicle: Vehicle) -> Iterator[Template]:
    """List the test strip, and a gear of one's own with what helps to make it."""
    kit, own = vehicle.kit, vehicle.making.own
    face = kit.made.face_width_mm if kit.made is not None else kit.grid_unit_mm

    yield Template("fit strip", say("workshop.fit-test-strip"), 1, face, fit_strip, "trial piece")
    words = say("workshop.of-your-own-teeth", kind=own.kind, teeth=own.teeth)
    yield Template("own", words, 1, face, _own, "own gear")
    if own.glued:
        count, words = own.segments + 1, say("workshop.segment-of-it-and-its-board")
        note = _describe_segment
        yield Template("own segment", words, count, face, _own_segment, "own gear", note=note)
        words = say("workshop.glue-up-of-its-segments", segments=own.segments)
        yield Template(
            "own glue-up", words, 1, face, _own_glue_up, "own gear", flat=True, note=note
        )
        yield Template(
            "own trial", say("workshop.trial-gear-to-roll-on-it"), 1, face, _trial_gear, "own gear"
        )


def _shifted(vehicle: Vehicle) -> Counter[tuple[int, str, float]]:
    """Count the gears whose pair stands at a distance that asks for a profile shift.

    Keyed by teeth, bore and shift coefficient; the shift of a pair is split evenly.
    """
    box, kit = vehicle.box, vehicle.kit
    counts: Counter[tuple[int, str, float]] = Counter()
    coupled = {
        id(pair): box.couples(slot.gear) for slot in box.slots for pair in box.coupled(slot.gear)
    }
    for group in box.between():
        centre = centre_of(kit, [link.pair for link in group.links])
        for link in group.links if centre is not None else ():
            shift = shift_at(kit, link.pair, centre) if centre is not None else None
            if shift is None:
                continue
            free = coupled.get(id(link.pair))
            for role, teeth, own in (
                ("driver", link.pair.driver, shift.driver),
                ("driven", link.pair.driven, shift.driven),
            ):
                counts[teeth, "free" if role == free else "fixed", round(own, 4)] += 1
    return counts


def _dogs(vehicle: Vehicle) -> list[Template]:
    """Give a star for each free gear of a box with dog sleeves, a cup for each face it meets."""
    box = vehicle.box
    if not vehicle.kit.any_seat or box.slides:
        return []
    free = sum(part.needed for part in parts_needed(vehicle) if part.key[0] == "free")
    faces = sum(1 for gear in vehicle.real.gears if box.ready(gear.id))
    if not free:
        return []
    stack = stack_for(vehicle)
    free += 0 if stack is None else sum(kind == "hub" for kind in stack.kinds)
    thick = vehicle.making.dog_mm
    return [
        Template("dog star", say("workshop.dog-ring-of-a-free-gear-2"), free, thick, dog_star),
        Template(
            "dog cup", say("workshop.dog-ring-of-a-sleeve-2"), max(faces, free), thick, dog_cup
        ),
        Template("dog jig", say("workshop.jig-for-a-sleeves-dogs"), 1, 2 * thick, dog_jig),
    ]


def _gear(vehicle: Vehicle, *, teeth: int, bore: Bore, shift: float) -> Drawing:
    kit, making = vehicle.kit, vehicle.making
    fixed = bore == "fixed"
    fit = making.fixed_fit if fixed else "running"
    thinning = kit.made.tooth_thinning_mm if kit.made is not None else 0.0
    form = GearForm(teeth, kit.module_mm, kit.pressure_angle_deg, shift, thinning_mm=thinning)
    by = say("workshop.shifted-2", shift=signed(shift, "+.3f")) if shift else ""
    cut = GearCut(
        say("workshop.gear-of-teeth", teeth=teeth, bore=bore, by=by),
        form,
        vehicle.hole_mm(kit.shaft_diameter_mm, fit),
        making.bore if fixed else "round",
        say("workshop.on-2", fit=fit, shaft_diameter_mm=in_mm(kit.shaft_diameter_mm)),
    )
    return cut_gear(cut, making)


def _own(vehicle: Vehicle) -> Drawing:
    own, making = vehicle.making.own, vehicle.making
    return own_template(own, making, vehicle.hole_mm(own.bore_mm, making.fixed_fit))


def _own_segment(vehicle: Vehicle) -> Drawing:
    return segment_template(vehicle.making.own)


def _describe_segment(vehicle: Vehicle) -> str:
    return segment_plan(vehicle.making.own).summary


def _own_glue_up(vehicle: Vehicle) -> Drawing:
    return glue_up(vehicle.making.own)


def _trial_gear(vehicle: Vehicle) -> Drawing:
    """Draw a small gear of the same module, just not undercut, to try a ring's segment with."""
    own, making = vehicle.making.own, vehicle.making
    form = GearForm(
        ceil(undercut_limit(own.pressure_angle_deg)),
        own.module_mm,
        own.pressure_angle_deg,
        thinning_mm=own.thinning_mm,
    )
    hole = vehicle.hole_mm(own.bore_mm, "running")
    title = say(
        "workshop.trial-gear-of-teeth", teeth=form.teeth, module_mm=in_module(own.module_mm)
    )
    return cut_gear(
        GearCut(title, form, hole, note=say("workshop.running-on", bore_mm=in_mm(own.bore_mm))),
        making,
    )


def _wall(vehicle: Vehicle, *, plate: Plate) -> Drawing:
    """Draw a wall seen from the input, every hole with its name."""
    left, low, right, high = plate.outline_mm
    foot = 2 * MARGIN_MM
    sheet = Drawing(word(plate.name), right - left + 2 * MARGIN_MM, high - low + foot + MARGIN_MM)
    dx, dy = MARGIN_MM - left, foot - low
    sheet.rectangle("cut", left + dx, low + dy, right + dx, high + dy)
    holes = [(hole.x_mm + dx, hole.y_mm + dy, hole.diameter_mm / 2) for hole in plate.holes]
    for x, y, radius in holes:
        sheet.circle("cut", (x, y), radius)
    names = [describe_shaft(vehicle, hole.name) for hole in plate.holes]
    asks = [
        LabelAsk((x, y), (len(plain(name)) * NAME_MM * NAME_WIDE, NAME_MM), radius + 1.0)
        for (x, y, radius), name in zip(holes, names, strict=True)
    ]
    room = Box(left + dx + 1, low + dy + 1, right + dx - 1, high + dy - 1)
    rings = [Box.about((x, y), (2 * radius, 2 * radius)) for x, y, radius in holes]
    placed = place_labels(asks, room, rings, line=NAME_MM)
    for name, label, (x, y, radius) in zip(names, placed, holes, strict=True):
        if label is None:
            continue
        sheet.words("engrave", (label.box.left, label.box.top), name, height_mm=NAME_MM)
        if label.led:
            ex, ey = label.box.middle
            far = hypot(ex - x, ey - y)
            edge = x + (ex - x) * radius / far, y + (ey - y) * radius / far
            sheet.line("engrave", edge, (ex, label.box.bottom if ey < y else label.box.top))
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        say(
            "workshop.thick-seen-from-the-input-end",
            name=plate.name,
            thick_mm=in_mm(plate.thick_mm),
        ),
        height_mm=2.6,
    )
    return sheet


def _fork(vehicle: Vehicle, *, fork: Fork) -> Drawing:
    """Draw a fork with the hole for its rail, which is glued or pressed in as fixed gears are."""
    xs, ys = [x for x, _ in fork.outline], [y for _, y in fork.outline]
    foot = 2 * MARGIN_MM
    dx, dy = MARGIN_MM - min(xs), foot - min(ys)
    sheet = Drawing(
        say("workshop.fork-of-4", shaft=describe_shaft(vehicle, fork.column)),
        max(max(xs) - min(xs), 60) + 2 * MARGIN_MM,
        max(ys) - min(ys) + foot + MARGIN_MM,
    )
    sheet.outline("cut", [(x + dx, y + dy) for x, y in fork.outline])
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit)
    sheet.circle("cut", (fork.rail.x_mm + dx, fork.rail.y_mm + dy), hole / 2)
    words = say(
        "workshop.fork-of-seen-from-the-input-end", shaft=describe_shaft(vehicle, fork.column)
    )
    sheet.words("mark", (MARGIN_MM, 4.0), words, height_mm=2.6)
    return sheet


def _bracket(vehicle: Vehicle, *, bracket: Bracket, stack: Stack) -> Drawing:
    """Draw the bracket of an idler's shaft, with the holes for the shaft and for its tie rod."""
    xs, ys = [x for x, _ in bracket.outline], [y for _, y in bracket.outline]
    foot = 2 * MARGIN_MM
    dx, dy = MARGIN_MM - min(xs), foot - min(ys)
    words = say("workshop.bracket-of", shaft=describe_shaft(vehicle, bracket.shaft))
    sheet = Drawing(
        words,
        max(max(xs) - min(xs), 60) + 2 * MARGIN_MM,
        max(ys) - min(ys) + foot + MARGIN_MM,
    )
    sheet.outline("cut", [(x + dx, y + dy) for x, y in bracket.outline])
    rod, frame = stack.rods[bracket.shaft], vehicle.frame
    shaft = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running")
    sheet.circle("cut", (rod.x_mm + dx, rod.y_mm + dy), shaft / 2)
    tie = vehicle.hole_mm(frame.post_mm, "running")
    sheet.circle("cut", (bracket.tie.x_mm + dx, bracket.tie.y_mm + dy), tie / 2)
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        say("workshop.of-seen-from-the-input-end", words=words),
        height_mm=2.6,
    )
    return sheet


def _spacer(vehicle: Vehicle, *, thick_mm: float) -> Drawing:
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running")
    outer = spacer_radius_mm(vehicle)
    foot = 2 * MARGIN_MM
    sheet = Drawing(
        say("workshop.spacer", thick_mm=in_mm(thick_mm)), 60, 2 * outer + foot + MARGIN_MM
    )
    centre = (30, foot + outer)
    sheet.circle("cut", centre, outer)
    sheet.circle("cut", centre, hole / 2)
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        say("workshop.spacer-thick", thick_mm=in_mm(thick_mm)),
        height_mm=2.6,
    )
    return sheet
