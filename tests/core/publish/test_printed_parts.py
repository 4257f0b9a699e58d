"""Parts to print, read back by trimesh: whole solids with dogs and grooves, alike ones once."""

import io

import pytest
import trimesh

from mild_badger.core.components.component import Component
from mild_badger.core.components.model import part_model
from mild_badger.core.components.solids import solid_of
from mild_badger.core.publish.drawings import printed_parts
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.made_pieces import standing_parts

TRUCK = demo_vehicle("larkholm-crane-truck")


def read(part: Component, form: str) -> trimesh.Trimesh:
    loaded = trimesh.load(io.BytesIO(part_model(part, form)), file_type=form)  # type: ignore[arg-type]
    if isinstance(loaded, trimesh.Trimesh):
        return loaded
    mesh = loaded.to_geometry()
    assert isinstance(mesh, trimesh.Trimesh)
    return mesh


@pytest.mark.parametrize("form", ["stl", "3mf"])
def test_a_file_holds_the_part_s_whole_solid(form: str) -> None:
    kinds = {part.kind: part for _, part, _ in printed_parts(TRUCK)}
    for kind in ("sleeve", "wall", "gear", "fork", "rack"):
        part = kinds[kind]
        mesh = read(part, form)
        mesh.merge_vertices()
        assert mesh.is_watertight
        assert mesh.volume == pytest.approx(solid_of(part).volume(), rel=1e-3)
        low, high = mesh.bounds
        long = max(p.to_mm for p in part.solid) - min(p.from_mm for p in part.solid)
        assert high[2] - low[2] == pytest.approx(long, abs=1e-3)


def test_free_gears_have_their_dogs_and_are_no_fixed_ones() -> None:
    gears = [part for _, part, _ in printed_parts(TRUCK) if part.kind == "gear"]
    free = [part for part in gears if part.free]
    assert len(free) >= 4
    for part in free:
        plain = [p for p in part.solid if len(p.outlines[0]) > 300]
        teeth = Component(part.id, part.kind, tuple(plain), 0, 0, 0)
        assert solid_of(part).volume() > 1.005 * solid_of(teeth).volume()


def test_every_part_that_is_printed_is_counted_once() -> None:
    listed = printed_parts(TRUCK)
    assert len({name for name, _, _ in listed}) == len(listed)
    counts = dict.fromkeys(("gear", "sleeve", "fork", "wall", "wheel"), 0)
    for _, part, count in listed:
        if part.kind in counts:
            counts[part.kind] += count
    there = [part.kind for part in standing_parts(TRUCK)]
    assert counts == {kind: there.count(kind) for kind in counts}  # type: ignore[arg-type]
    assert max(count for _, part, count in listed if part.kind == "wheel") == 4


def test_nothing_is_printed_of_wood_or_bricks() -> None:
    assert printed_parts(demo_vehicle("larkholm-timber-tractor")) == ()
    assert printed_parts(demo_vehicle("larkholm-mail-bus")) == ()
