"""The drawing: what is visible where, in whose tint and ink, and what a section shows."""

import numpy as np

from mild_badger.core.components.component import Component, ComponentId, Prism
from mild_badger.core.components.solids import circle
from mild_badger.core.scene.camera import VIEWS, Camera
from mild_badger.core.scene.mesh import placed_corners, scene_of
from mild_badger.core.scene.picture import Drawn, Paints, Section, picture_of

SIZE = (200, 160)
PAINTS = Paints(
    paper=(255, 255, 250),
    tint=(210, 210, 210),
    ink=(0, 0, 0),
    run_tint=(240, 180, 160),
    run_ink=(200, 0, 0),
    back_tint=(160, 180, 240),
    back_ink=(0, 0, 200),
)


def block(name: str, x: float, along: float, radius: float = 5.0) -> Component:
    solid = (Prism((circle(radius),), 0.0, 10.0),)
    return Component(ComponentId(name), "spacer", solid, x, 0.0, along)


def drawn(
    parts: list[Component],
    roles: list[str],
    camera: Camera,
    *,
    section: Section | None = None,
    fine: int = 1,
) -> Drawn:
    scene = scene_of(parts)
    still = np.zeros(len(parts))
    corners = placed_corners(scene, parts, still, still)
    return picture_of(
        scene, corners, camera, SIZE, paints=PAINTS, roles=roles, section=section, fine=fine
    )


def test_what_is_nearer_covers_what_is_behind_and_picking_tells_it() -> None:
    parts = [block("front", 0.0, 0.0, 4.0), block("back", 0.0, 20.0, 8.0)]
    camera = Camera(*VIEWS["input"], scale=8.0)
    seen = drawn(parts, ["idle", "idle"], camera)
    assert seen.part[80, 100] == 0
    assert seen.part[80, 100 + 6 * 8] == 1
    assert seen.part[2, 2] == -1
    assert tuple(seen.pixels[2, 2, :3]) == PAINTS.paper
    from_behind = drawn(parts, ["idle", "idle"], Camera(*VIEWS["output"], scale=8.0))
    assert from_behind.part[80, 100] == 1


def test_the_path_is_tinted_and_inked_in_its_own_colours() -> None:
    camera = Camera(*VIEWS["input"], scale=8.0)
    for role, tint, ink in (
        ("run", PAINTS.run_tint, PAINTS.run_ink),
        ("back", PAINTS.back_tint, PAINTS.back_ink),
        ("idle", PAINTS.tint, PAINTS.ink),
    ):
        pixels = drawn([block("one", 0.0, 0.0)], [role], camera).pixels
        inside = pixels[80, 100, :3].astype(int)
        # its tint, as light as it looks to the light
        assert np.ptp(inside / np.array(tint)) < 0.02
        assert (pixels[..., :3].reshape(-1, 3) == ink).all(axis=1).any()
    hidden = drawn([block("one", 0.0, 0.0)], ["hidden"], camera)
    assert (hidden.part == -1).all()


def test_a_section_opens_the_box() -> None:
    parts = [block("front", 0.0, 0.0, 8.0), block("back", 0.0, 20.0, 4.0)]
    camera = Camera(*VIEWS["input"], scale=8.0)
    away = drawn(parts, ["idle", "idle"], camera, section=Section(2, -15.0))
    assert away.part[80, 100] == 1  # all of the first is beyond
    cut = drawn(parts, ["idle", "idle"], camera, section=Section(2, -5.0))
    assert cut.part[80, 100] == 0
    hatched = (cut.pixels[60:100, 80:120, :3].reshape(-1, 3) < 120).all(axis=1)
    assert 0.05 < hatched.mean() < 0.5  # lines, not a surface


def test_a_fine_picture_is_as_large_and_shows_the_same_parts() -> None:
    parts = [block("one", -5.0, 0.0), block("two", 6.0, 0.0)]
    camera = Camera(scale=6.0)
    plain, fine = (drawn(parts, ["idle", "run"], camera, fine=n) for n in (1, 3))
    assert fine.pixels.shape == plain.pixels.shape
    assert (fine.part == plain.part).mean() > 0.98
