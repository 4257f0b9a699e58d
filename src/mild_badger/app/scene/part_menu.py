"""What may be done with a part that is pressed in a picture: one menu for every picture."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QApplication, QMenu

from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.message import say
from mild_badger.core.scene.motion import gears_with

__all__ = ["part_menu"]

PUSHES: tuple[tuple[str | None, str], ...] = (
    ("front", say("scene.push-the-sleeve-to-the-front")),
    ("back", say("scene.push-the-sleeve-to-the-back")),
    (None, say("scene.push-the-sleeve-to-neutral")),
)
SUPPORTED = frozenset({"wall", "bearing", "post", "tie rod", "tie beam"})
SHIFTED = frozenset({"sleeve", "fork", "rail", "shift arm", "gate lever", "catch", "drum", "star"})
GEARS = frozenset({"gear", "shaft", "hub", "spacer"})


def part_menu(
    session: Session,
    part: Component,
    take_off: Callable[[Component], None] | None = None,
    push: Callable[[str, str | None], None] | None = None,
) -> QMenu:
    """Make the menu of a part: engage its gears, push its sleeve, go to its pages, leave it out."""
    vehicle = session.vehicle
    menu = QMenu(QApplication.activeWindow())
    heading = menu.addAction(shown(describe_component(vehicle, part)))
    if heading is not None:
        heading.setEnabled(False)
    menu.addSeparator()

    def add(words: str, do: Callable[[], object]) -> None:
        action = menu.addAction(shown(words))
        if action is not None:
            action.triggered.connect(lambda _checked=False: do())

    for gear in gears_with(vehicle, part):
        add(
            say("scene.engage-gear", name=vehicle.gear_name(gear)),
            partial(session.engage, gear),
        )
    if push is not None and part.member and not part.box:
        for face, words in PUSHES:
            add(words, partial(push, part.member, face))
    places = [("Workshop", "apart", say("scene.what-comes-out-to-reach-it"))]
    if part.kind in GEARS:
        places.append(("Layout", "stack", say("scene.show-on-the-stack")))
    if part.kind in SUPPORTED:
        places.append(("Layout", "frame", say("scene.show-in-the-walls")))
    if part.kind in SHIFTED:
        places.append(("Shift", "actuator", say("scene.show-the-shifter")))
    places.append(("Workshop", "templates", say("scene.show-its-template")))
    for tab, page, words in places:
        add(words, partial(session.go_wanted.emit, tab, page))
    if take_off is not None:
        menu.addSeparator()
        add(say("scene.leave-it-out"), lambda: take_off(part))
    return menu
