"""The drawings and solids of a vehicle by name, as the bytes of a file."""

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.model import ModelForm, part_model
from mild_badger.core.errors import InputError
from mild_badger.core.figures import plain, write
from mild_badger.core.message import say
from mild_badger.core.publish.tiles import field_of, sheets_pdf, tiled_pdf
from mild_badger.core.templates.drawing import Drawing, to_dxf, to_svg
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.workshop.boards import BoardPlan, board_drawing, board_key, board_plans
from mild_badger.core.workshop.detent_strip import detent_strip, detent_strip_stl
from mild_badger.core.workshop.made_pieces import shape_of, standing_parts
from mild_badger.core.workshop.nested import nested_sheets, paper_templates
from mild_badger.core.workshop.solid import extruded_stl
from mild_badger.core.workshop.templates import drawn, templates_of
from mild_badger.core.workshop.wrapper import drum_count, drum_wrapper

PRINTED_FORMS: tuple[ModelForm, ...] = ("stl", "3mf")
NOT_PRINTED = frozenset(
    {
        "shaft",
        "rail",
        "catch rail",
        "half shaft",
        "tie rod",
        "spacer",
        "bearing",
        "motor",
        "screw",
        "nut",
        "worm",
        "pin",
        "guide",
        "fulcrum",
        "crank",
        "frame rail",
        "lining",
    }
)
"""Kinds that are rods, sawn, bought, or cut from sheet whatever the kit is."""

__all__ = [
    "drawing_data",
    "drawing_files",
    "paper_data",
    "paper_drawings",
    "printed_parts",
    "template_data",
    "template_files",
]


def drawing_data(vehicle: Vehicle, name: str, form: str) -> bytes:
    """Write ``drum``, ``even drum`` or ``strip`` as svg, dxf, pdf or (the strip) stl."""
    if name == "strip" and form == "stl":
        return detent_strip_stl(vehicle.lever)
    drawing: Drawing
    if name == "strip":
        drawing = detent_strip(vehicle.lever)
    else:
        drawing = drum_wrapper(vehicle, 1 if name == "even drum" else 0)
    return _written(vehicle, drawing, form)


def _written(vehicle: Vehicle, drawing: Drawing, form: str) -> bytes:
    units, making = vehicle.shown_in, vehicle.making
    match form:
        case "pdf":
            return tiled_pdf(drawing, making.paper, making.overlap_mm, units=units)
        case "dxf":
            return to_dxf(drawing, units, inches=vehicle.units.dxf == "in").encode()
        case _:
            return to_svg(drawing, units).encode()


def template_data(vehicle: Vehicle, key: str, form: str) -> bytes:
    """Write a template as svg, dxf, pdf or stl.

    Lines of SVG and DXF are moved by half the kerf; paper and solids show the part's own size.

    Raises
    ------
    InputError
        There is no such template, or it cannot be made to these figures.
    """
    template = next((t for t in templates_of(vehicle) if t.key == key), None)
    if template is not None:
        return _template(vehicle, template, form)
    for plan in board_plans(vehicle):  # lays out every part, so only where no template has the key
        for number in range(len(plan.boards)):
            if board_key(plan, number) == key:
                return _board(vehicle, plan, number, form)
    raise InputError(say("publish.this-vehicle-takes-no-template-see-the-list", key=key))


def _template(vehicle: Vehicle, template: Template, form: str) -> bytes:
    if form != "stl":
        return _written(vehicle, drawn(vehicle, template, kerf=form in ("svg", "dxf")), form)
    parts = cut_shapes(drawn(vehicle, template, kerf=False))
    if template.flat or len(parts) != 1:
        raise InputError(say("publish.the-template-is-no-single-solid", key=template.key))
    try:
        return extruded_stl(parts[0][0], template.thick_mm, parts[0][1])
    except ValueError as error:
        raise InputError(
            say("publish.holes-run-into-one-another-or-out-of-the", words=template.words)
        ) from error


def _board(vehicle: Vehicle, plan: BoardPlan, number: int, form: str) -> bytes:
    """Write a board with all its parts, by its number from 0."""
    if form == "stl":
        raise InputError(say("publish.a-board-is-written-as-svg-dxf-or-pdf-save"))
    return _written(vehicle, board_drawing(vehicle, plan, number), form)


def drawing_files(vehicle: Vehicle) -> dict[str, bytes]:
    """Write all drawings that a vehicle's shifter takes: its drums, or its detents' test strip."""
    if vehicle.shifting.actuation != "drum":
        return {
            f"detent-strip.{form}": drawing_data(vehicle, "strip", form)
            for form in ("svg", "dxf", "stl")
        }
    names = ("drum", "even drum")[: drum_count(vehicle)]
    return {
        f"{name.replace(' ', '-')}.{form}": drawing_data(vehicle, name, form)
        for name in names
        for form in ("svg", "dxf")
    }


def paper_drawings(vehicle: Vehicle) -> tuple[Drawing, ...]:
    """Lay out the templates on the builder's paper: sheets of several, then what is larger."""
    templates, _ = paper_templates(vehicle)
    sheets, large = nested_sheets(vehicle, templates, field_of(vehicle.making.paper))
    return (*(sheet.drawing for sheet in sheets), *(one.drawing for one in large))


def paper_data(vehicle: Vehicle) -> bytes:
    """Write all templates at true scale on paper, several to a sheet, as PDF."""
    making = vehicle.making
    title = write(say("publish.templates-of", name=vehicle.name), vehicle.shown_in)
    drawings = paper_drawings(vehicle)
    return sheets_pdf(drawings, title, making.paper, making.overlap_mm, units=vehicle.shown_in)


def printed_parts(vehicle: Vehicle) -> tuple[tuple[str, Component, int], ...]:
    """List the parts to print whole, alike ones once: a file's name, one of them, how many.

    Empty where parts are not printed. What a rod, a screw or a shop gives is not printed.
    """
    if vehicle.making.made_of(vehicle.kit.kind) != "print" or not vehicle.kit.any_seat:
        return ()
    alike: dict[object, list[Component]] = {}
    for part in standing_parts(vehicle):
        if part.kind not in NOT_PRINTED and not (part.kind == "post" and part.name):
            alike.setdefault((part.kind, part.free, shape_of(part)), []).append(part)
    taken: set[str] = set()
    listed = []
    for own in alike.values():
        name = _file_name(describe_component(vehicle, own[0]))
        number = 2
        while name in taken:
            name, number = f"{_file_name(describe_component(vehicle, own[0]))}-{number}", number + 1
        taken.add(name)
        listed.append((name, own[0], len(own)))
    return tuple(listed)


def _file_name(words: str) -> str:
    return plain(words).replace(",", "").replace(" ", "-").replace("/", "-")


def template_files(
    vehicle: Vehicle, *, watch: Watch = UNWATCHED
) -> tuple[dict[str, bytes], tuple[str, ...]]:
    """Write every template and board in every form; beside them, what cannot be drawn, and why.

    Raises
    ------
    SearchStopped
        It was stopped.
    """
    files: dict[str, bytes] = {"templates-on-paper.pdf": paper_data(vehicle)}
    refused = []
    templates = templates_of(vehicle)
    for done, template in enumerate(templates):
        watch.tick(done / len(templates))
        name = _file_name(template.words)
        try:
            for form in ("svg", "dxf", "pdf") if template.flat else ("svg", "dxf", "pdf", "stl"):
                files[f"template-{name}.{form}"] = _template(vehicle, template, form)
        except InputError as error:
            refused.append(str(error))
    for name, part, _count in printed_parts(vehicle):
        watch.tick(1.0)
        for form in PRINTED_FORMS:
            files[f"part-{name}.{form}"] = part_model(part, form)
    for plan in board_plans(vehicle):
        for number in range(len(plan.boards)):
            board = board_drawing(vehicle, plan, number)
            for form in ("svg", "dxf", "pdf"):
                name = f"board-{plan.thick_mm:g}mm-{number + 1}.{form}"
                files[name] = _written(vehicle, board, form)
    return files, tuple(refused)
