"""Templates on paper: nothing over anything else, nothing cut off, nothing left out or twice."""

from itertools import combinations

import pytest
from shapely import affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from mild_badger.core.publish.tiles import field_of
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.nested import alike, nested_sheets, paper_templates
from mild_badger.core.workshop.templates import templates_of

TROLLEY = "larkholm-sawmill-trolley"
DEMOS = [
    "larkholm-mail-bus",
    "larkholm-timber-tractor",
    TROLLEY,
    "larkholm-crane-truck",
]


def shapes(drawing: Drawing) -> list[Polygon]:
    return [Polygon(outside, holes) for outside, holes in cut_shapes(drawing)]


def words_of(drawing: Drawing) -> list[BaseGeometry]:
    """Give a rectangle for each line of words, as wide as the widest letters make it."""
    boxes = []
    for label in drawing.labels:
        wide, high = 0.5 * label.height_mm * len(label.text), label.height_mm
        box = Polygon([(0, 0), (wide, 0), (wide, high), (0, high)])
        if label.upright:
            box = affinity.rotate(box, 90, origin=(0, 0))
        boxes.append(affinity.translate(box, *label.at))
    return boxes


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_all_templates_lie_apart_on_the_sheets(name: str, paper: str) -> None:
    vehicle = demo_vehicle(name)
    templates, refused = paper_templates(vehicle)
    # the trolley's ratchet wheels are finer than can be cut, which is said
    assert len(refused) == (name == TROLLEY)
    field = field_of(paper)
    sheets, large = nested_sheets(vehicle, templates, field)
    keys = [key for sheet in sheets for key in sheet.keys] + [one.template.key for one in large]
    assert sorted(keys) == sorted(one.template.key for one in templates)
    if sheets:
        assert "fit strip" in sheets[0].keys
    drawings = {one.template.key: one.drawing for one in templates}
    for sheet in sheets:
        parts = shapes(sheet.drawing)
        assert len(parts) >= len(sheet.keys)
        total = sum(s.area for key in sheet.keys for s in shapes(drawings[key]))
        assert sum(part.area for part in parts) == pytest.approx(total, rel=1e-6)
        for part in parts:
            left, low, right, high = part.bounds
            assert min(left, low) >= -1e-6
            assert right <= field[0] + 1e-6
            assert high <= field[1] + 1e-6
        kinds = {one.template.kind for one in templates if one.template.key in sheet.keys}
        # the steps of a turned part, seen from the side, lie against one another
        for a, b in combinations(parts, 2) if "turned" not in kinds else ():
            assert a.distance(b) > 1.0
        lines = words_of(sheet.drawing)
        for one, other in combinations(lines, 2):
            assert one.intersection(other).area < 0.3


@pytest.mark.parametrize("name", DEMOS)
def test_alike_ones_are_counted_together(name: str) -> None:
    vehicle = demo_vehicle(name)
    templates, _ = paper_templates(vehicle)
    wanted = sum(
        t.count
        for t in templates_of(vehicle)
        if t.kind not in ("tube", "own gear") and (name, t.key) != (TROLLEY, "lever wheel")
    )
    assert sum(one.count for one in templates) == wanted
    boards = [one for one in templates if one.template.kind == "board part"]
    for one, other in combinations(boards, 2):
        if one.template.thick_mm == other.template.thick_mm:
            assert not alike(one.drawing, other.drawing)


def drawing_of(*points: tuple[float, float], hole: tuple[float, float]) -> Drawing:
    sheet = Drawing("x", 100, 100)
    sheet.outline("cut", points)
    sheet.circle("cut", hole, 2.0)
    return sheet


def test_a_piece_turned_or_turned_over_is_the_same_and_another_is_not() -> None:
    corners = ((0.0, 0.0), (40.0, 0.0), (40.0, 12.0), (9.0, 20.0))
    hole = (33.0, 5.0)
    one = drawing_of(*corners, hole=hole)
    turn = [affinity.rotate(Point(p), 37, origin=(3, 5)) for p in (*corners, hole)]
    places = [(p.x, p.y) for p in turn]
    assert alike(one, drawing_of(*places[:-1], hole=places[-1]))
    over = [(-x, y) for x, y in places]
    assert alike(one, drawing_of(*over[:-1], hole=over[-1]))
    assert not alike(one, drawing_of(*corners, hole=(30.0, 6.0)))
    assert not alike(one, drawing_of(*corners[:-1], (9.0, 20.5), hole=hole))


def test_bricks_have_no_sheet_of_gears_or_walls() -> None:
    templates, _ = paper_templates(demo_vehicle(DEMOS[0]))
    assert not [t for t in templates if t.template.key.startswith(("gear", "wall", "bevel"))]
