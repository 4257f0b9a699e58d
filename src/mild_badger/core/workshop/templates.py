"""The templates that a vehicle takes: gears that are made, walls, forks, spacers, test strip."""

from collections import Counter
from dataclasses import dataclass
from math import ceil

from mild_badger.core.errors import InputError
from mild_badger.core.layout.forks import Fork, forks_of
from mild_badger.core.layout.names import shaft_words
from mild_badger.core.layout.plates import Plate, plates_of
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.mesh.centres import centre_of, shift_at
from mild_badger.core.mesh.shift import undercut_limit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.crane_templates import (
    cable_lever,
    cable_levers,
    crane_pieces,
    crane_template,
)
from mild_badger.core.workshop.dogs import dog_cup, dog_star
from mild_badger.core.workshop.drawing import Drawing
from mild_badger.core.workshop.engine_templates import crank_jig, crank_web, engine_rod
from mild_badger.core.workshop.fit_strip import fit_strip
from mild_badger.core.workshop.gear_shape import GearForm
from mild_badger.core.workshop.gear_template import GearCut, cut_gear, own_template
from mild_badger.core.workshop.kerf import with_kerf
from mild_badger.core.workshop.lever_templates import (
    clutch_lining,
    lever_arm,
    lever_pawl,
    ratchet_wheel,
)
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.pieces import spacer_radius_mm
from mild_badger.core.workshop.segments import glue_up, segment_template

__all__ = ["Template", "template_of", "templates_of"]

MARGIN_MM, NAME_MM = 6.0, 2.0


ENGINE_PARTS = {"rod": engine_rod, "web": crank_web, "jig": crank_jig}
LEVER_PARTS = {"arm": lever_arm, "wheel": ratchet_wheel, "pawl": lever_pawl}


@dataclass(frozen=True)
class Template:
    """A drawing that the vehicle takes: its key, its words, how many to make, and how thick."""

    key: str
    words: str
    count: int
    thick_mm: float


def templates_of(vehicle: Vehicle) -> tuple[Template, ...]:
    """List what is to be made; a brick kit's gears and walls are bought, the rest can be drawn."""
    templates: list[Template] = []
    kit = vehicle.kit
    plates, forks = _frame(vehicle)
    shifted = _shifted(vehicle)
    for part in parts_needed(vehicle):
        kind, size = part.key
        if kind in ("fixed", "free") and part.made and kit.made is not None:
            plain = part.needed
            for (teeth, bore, shift), count in sorted(shifted.items()):
                if (bore, teeth) == part.key:
                    plain -= count
                    templates.append(
                        Template(
                            f"gear {size} {kind} {shift:+.4f}",
                            f"{part.name}, shifted {shift:+.3f}".replace("-", "−"),
                            count,
                            kit.made.face_width_mm,
                        )
                    )
            if plain > 0:
                templates.append(
                    Template(f"gear {size} {kind}", part.name, plain, kit.made.face_width_mm)
                )
        if kind == "spacer":
            templates.append(Template(f"spacer {size}", part.name, part.needed, size / 10))
    templates += [
        Template(f"wall {n}", plate.name, 1, plate.thick_mm) for n, plate in enumerate(plates)
    ]
    templates += [
        Template(
            f"fork {n}", f"fork of {shaft_words(vehicle, fork.column)}", 1, vehicle.frame.fork_mm
        )
        for n, fork in enumerate(forks)
    ]
    templates += _dogs(vehicle)
    if vehicle.display is not None:
        count, thick = vehicle.display.cylinders, vehicle.making.dog_mm
        templates += [
            Template("engine rod", "rod of the display engine", count, thick),
            Template("engine web", "crank web of the display engine", 2 * count, thick),
            Template("engine jig", "jig for its crank", 1, thick),
        ]
    if vehicle.clutch is not None:
        templates.append(
            Template(
                "clutch lining",
                "ring of clutch lining",
                vehicle.clutch.faces,
                max(vehicle.clutch.wear_mm, 0.5),
            )
        )
    thin = vehicle.making.dog_mm
    templates += [Template(*piece) for piece in crane_pieces(vehicle)]
    templates += [
        Template(f"cables {n}", name, 1, thin)
        for n, (name, _, _) in enumerate(cable_levers(vehicle))
    ]
    if vehicle.stepless is not None:
        count, thick = vehicle.stepless.ratchets, vehicle.making.dog_mm
        templates += [
            Template("lever arm", "lever with its slot", count, thick),
            Template("lever wheel", "ratchet wheel", vehicle.stepless.wheels, thick),
            Template("lever pawl", "pawl", vehicle.stepless.pawls, thick),
        ]
    face = kit.made.face_width_mm if kit.made is not None else kit.grid_unit_mm
    own = vehicle.making.own
    return (
        *templates,
        Template("fit strip", "fit test strip", 1, face),
        Template("own", f"{own.kind} of your own, {own.teeth} teeth", 1, face),
        *(
            (
                Template("own segment", "segment of it, and its board", own.segments + 1, face),
                Template("own glue-up", f"glue-up of its {own.segments} segments", 1, face),
                Template("own trial", "trial gear to roll on it", 1, face),
            )
            if own.segments and own.kind != "rack"
            else ()
        ),
    )


def _shifted(vehicle: Vehicle) -> Counter[tuple[int, str, float]]:
    """Count the gears whose pair stands at a distance that asks for a profile shift.

    Keyed by teeth, bore and shift coefficient; the shift of a pair is split evenly.
    """
    box, kit = vehicle.box, vehicle.kit
    counts: Counter[tuple[int, str, float]] = Counter()
    coupled = {id(pair) for slot in box.slots for pair in box.coupled(slot.gear)}
    for group in box.between():
        centre = centre_of(kit, [link.pair for link in group.links])
        for link in group.links if centre is not None else ():
            shift = shift_at(kit, link.pair, centre) if centre is not None else None
            if shift is None:
                continue
            free = "free" if id(link.pair) in coupled else "fixed"
            counts[link.pair.driver, "fixed", round(shift.driver, 4)] += 1
            counts[link.pair.driven, free, round(shift.driven, 4)] += 1
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
    thick = vehicle.making.dog_mm
    return [
        Template("dog star", "dog ring of a free gear", free, thick),
        Template("dog cup", "dog ring of a sleeve", max(faces, free), thick),
    ]


def template_of(vehicle: Vehicle, key: str, *, kerf: bool = True) -> Drawing:
    """Draw a template by its key, cut lines moved by half the kerf unless that is put off.

    Raises
    ------
    InputError
        There is no such template, or it cannot be made to these figures.
    """
    drawing = _drawn(vehicle, key)
    return with_kerf(drawing, vehicle.making.kerf_mm) if kerf else drawing


def _drawn(vehicle: Vehicle, key: str) -> Drawing:
    making, kit = vehicle.making, vehicle.kit
    kind, _, rest = key.partition(" ")
    if key == "fit strip":
        return fit_strip(vehicle)
    if key == "own segment":
        return segment_template(making.own)
    if key.startswith("engine "):
        return ENGINE_PARTS[rest](vehicle)
    if key == "clutch lining":
        return clutch_lining(vehicle)
    if kind == "outputs":
        return crane_template(vehicle, int(rest))
    if kind == "cables":
        return cable_lever(vehicle, int(rest))
    if key.startswith("lever "):
        return LEVER_PARTS[rest](vehicle)
    if key == "own trial":
        return _trial_gear(vehicle)
    if key == "own glue-up":
        return glue_up(making.own)
    if key in ("dog star", "dog cup"):
        return dog_star(vehicle) if key == "dog star" else dog_cup(vehicle)
    if key == "own":
        hole = vehicle.hole_mm(making.own.bore_mm, making.fixed_fit)
        return own_template(making.own, making, hole)
    if kind == "gear" and kit.made is not None:
        teeth, bore, *more = rest.split(" ")
        shift = float(more[0]) if more else 0.0
        fixed = bore == "fixed"
        fit = making.fixed_fit if fixed else "running"
        form = GearForm(
            int(teeth),
            kit.module_mm,
            kit.pressure_angle_deg,
            shift,
            thinning_mm=kit.made.tooth_thinning_mm,
        )
        by = f", shifted {shift:+.3f}".replace("-", "−") if shift else ""
        cut = GearCut(
            f"Gear of {teeth} teeth, {bore}{by}",
            form,
            vehicle.hole_mm(kit.shaft_diameter_mm, fit),
            making.bore if fixed else "round",
            f"{fit} on {kit.shaft_diameter_mm:g}",
        )
        return cut_gear(cut, making)
    if kind == "spacer":
        return _spacer(vehicle, int(rest) / 10)
    plates, forks = _frame(vehicle)
    if kind == "wall" and int(rest) < len(plates):
        return _wall(vehicle, plates[int(rest)])
    if kind == "fork" and int(rest) < len(forks):
        return _fork(vehicle, forks[int(rest)])
    raise InputError(f"This vehicle takes no template {key}; see the list of templates.")


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
    title = f"Trial gear of {form.teeth} teeth, module {own.module_mm:g}"
    return cut_gear(GearCut(title, form, hole, note=f"running on {own.bore_mm:g}"), making)


def _frame(vehicle: Vehicle) -> tuple[tuple[Plate, ...], tuple[Fork, ...]]:
    stack = stack_for(vehicle)
    if stack is None:
        return (), ()
    forks = forks_of(vehicle, stack)
    return (plates_of(vehicle, stack, forks) if vehicle.kit.any_seat else ()), forks


def _wall(vehicle: Vehicle, plate: Plate) -> Drawing:
    """Draw a wall seen from the input, every hole with its name."""
    left, low, right, high = plate.outline_mm
    foot = 2 * MARGIN_MM
    sheet = Drawing(plate.name, right - left + 2 * MARGIN_MM, high - low + foot + MARGIN_MM)
    dx, dy = MARGIN_MM - left, foot - low
    sheet.rectangle("cut", left + dx, low + dy, right + dx, high + dy)
    for hole in plate.holes:
        at = hole.x_mm + dx, hole.y_mm + dy
        radius = hole.diameter_mm / 2
        sheet.circle("cut", at, radius)
        words = shaft_words(vehicle, hole.name)
        long = len(words) * NAME_MM * 0.75
        aside = radius + 1 if at[0] + radius + long < right + dx - 1 else -radius - 1 - long
        sheet.words("engrave", (at[0] + aside, at[1] + 1), words, height_mm=NAME_MM)
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        f"{plate.name}, {plate.thick_mm:g} mm thick, seen from the input end",
        height_mm=2.6,
    )
    return sheet


def _fork(vehicle: Vehicle, fork: Fork) -> Drawing:
    """Draw a fork with the hole for its rail, which is glued or pressed in as fixed gears are."""
    xs, ys = [x for x, _ in fork.outline], [y for _, y in fork.outline]
    foot = 2 * MARGIN_MM
    dx, dy = MARGIN_MM - min(xs), foot - min(ys)
    sheet = Drawing(
        f"Fork of {shaft_words(vehicle, fork.column)}",
        max(max(xs) - min(xs), 60) + 2 * MARGIN_MM,
        max(ys) - min(ys) + foot + MARGIN_MM,
    )
    sheet.outline("cut", [(x + dx, y + dy) for x, y in fork.outline])
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit)
    sheet.circle("cut", (fork.rail.x_mm + dx, fork.rail.y_mm + dy), hole / 2)
    words = f"Fork of {shaft_words(vehicle, fork.column)}, seen from the input end"
    sheet.words("mark", (MARGIN_MM, 4.0), words, height_mm=2.6)
    return sheet


def _spacer(vehicle: Vehicle, thick_mm: float) -> Drawing:
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running")
    outer = spacer_radius_mm(vehicle)
    foot = 2 * MARGIN_MM
    sheet = Drawing(f"Spacer {thick_mm:g} mm", 60, 2 * outer + foot + MARGIN_MM)
    centre = (30, foot + outer)
    sheet.circle("cut", centre, outer)
    sheet.circle("cut", centre, hole / 2)
    sheet.words("mark", (MARGIN_MM, 4.0), f"Spacer, {thick_mm:g} mm thick", height_mm=2.6)
    return sheet
