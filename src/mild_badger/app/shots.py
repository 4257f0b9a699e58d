"""Pictures of the main views, made from the demo data (also docs/screenshots)."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication, QWidget

from mild_badger.app.scene.space_canvas import SpaceCanvas
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.machine.tab import MachineTab
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.tabs.tab import Tab
from mild_badger.app.tabs.trial.tab import TrialTab
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.window import Window
from mild_badger.core.axle.road_state import Straight, Turn
from mild_badger.core.errors import FileAccessError
from mild_badger.core.trial.expected import places, positions
from mild_badger.core.trial.readings import note_reading
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.trial.rig import RigRun, SlotDisc, parse_fault, pulses
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.workshop.states import tick_step

__all__ = ["take_shots"]


def take_shots(app: QApplication, window: Window, folder: Path) -> list[Path]:
    """Draw each tab at 1280 × 800 as a PNG, then pages and dialogs.

    Raises
    ------
    FileAccessError
        A picture could not be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileAccessError(f"Cannot make the folder {folder}: {error.strerror}.") from error
    window.resize(1280, 800)
    window.show()
    window.session.engage("3")
    made = []

    def take(name: str, widget: QWidget = window) -> None:
        for _ in range(4):
            app.processEvents()
        path = folder / f"{name}.png"
        if not widget.grab().toImage().save(str(path)):
            raise FileAccessError(f"Cannot write {path}; check the folder and the space left.")
        made.append(path)

    for title in TABS:
        window.show_tab(title)
        if title == "Ratios":
            window.find_set()
            window.worker.wait()
        window.session.drive(Turn(450.0, "left") if title == "Axle" else Straight())
        tab = window.tab
        if isinstance(tab, WorkshopTab):
            tab.parts_page.draw_sheet()
        if isinstance(tab, TrialTab):
            _readings(window)
        if isinstance(tab, MachineTab):
            continue  # what it shows has demos of its own
        take(title.lower())
        if isinstance(tab, LayoutTab):
            _whole(window, tab, take)
            _space(tab, take, "layout-space")
        if isinstance(tab, AxleTab):
            tab.show_page("steering")
            tab.steering_page.slider.setValue(70)
            take("axle-steering")
            _lesson(tab, take)
            tab.show_page("turn")
        if title == "Road":
            _drive(tab, take)
        if isinstance(tab, TrialTab):
            tab.list_page.begin_anew()
            window.session.undo_stack.clear()
    _tractor(window, take)
    _machine(window, take, "crane", "machine")
    return made


def _readings(window: Window) -> None:
    """Take readings of the rig with a gear too large in third."""
    vehicle = window.session.vehicle
    output = places(vehicle)[0].body
    fault = parse_fault(vehicle, "swapped gear:gear 3:2:driven:24")
    for number, position in enumerate(positions(vehicle)[1:6]):
        run = RigRun(position, output, fault, seed=number, output=SlotDisc(noise_us=3000))
        lines = list(pulses(vehicle, run))
        reading, _, _ = take_reading(lines, position, output, slots_in=6, slots_out=6)
        if reading is not None:
            window.session.do(note_reading(window.session.vehicle, reading))


def _machine(window: Window, take: Callable[[str], None], page: str, name: str) -> None:
    """Draw a page of the tab Machine with the crane truck; then put the bus back."""
    bus = window.session.vehicle
    window.session.show(demo_vehicle("larkholm-crane-truck"))
    window.session.engage("2")
    window.show_tab("Machine")
    tab = window.tab
    if isinstance(tab, MachineTab):
        tab.show_page(page)
        take(name)
    window.session.show(bus)
    window.session.engage("3")


def _whole(window: Window, tab: LayoutTab, take: Callable[[str], None]) -> None:
    """Draw the whole box placed; then put the bus back as it was."""
    tab.show_page("whole")
    window.session.do(Edit.one("Look for a short time", ("placing", "seconds"), 5.0))
    tab.whole_page.search()
    window.worker.wait()
    take("layout-whole")
    tab.whole_page.forget()
    window.session.undo_stack.undo()
    tab.show_page("train")


def _lesson(tab: AxleTab, take: Callable[[str], None]) -> None:
    """Draw a step of the lesson on differentials, its left wheel held and turned a little."""
    tab.show_page("lesson")
    page = tab.lesson_page
    page.choose_course("differential")
    page.show_step(8)
    page.acts["hold left"].setChecked(True)
    page.view.motion = page.step.move(
        page.view.motion, replace(page.view.doing, turning=True), page.view.setting, 1.3
    )
    page.view.do(page.view.doing)
    page.view.redraw()
    _standing(page.view)
    take("axle-lesson")


def _space(tab: LayoutTab, take: Callable[[str], None], name: str) -> None:
    """Draw the box in space, once its picture is made and stands."""
    tab.show_page("space")
    _standing(tab.space_page.view)
    take(name)
    tab.show_page("train")


def _standing(view: SpaceCanvas) -> None:
    """Wait until a picture in space is made and drawn finely."""
    loop, looked = QEventLoop(), QTimer()
    looked.timeout.connect(lambda: loop.quit() if view.drawn_finely else None)
    looked.start(50)
    QTimer.singleShot(20_000, loop.quit)
    loop.exec()


def _drive(tab: Tab, take: Callable[[str], None]) -> None:
    """Draw a test drive over the usual course."""
    # The chart library is loaded with this tab, not at every start.
    from mild_badger.app.tabs.road.tab import RoadTab  # noqa: PLC0415

    if isinstance(tab, RoadTab):
        tab.show_page("drive")
        tab.drive_page.all_at_once()
        take("road-drive")
        tab.show_page("speed")


def _tractor(window: Window, take: Callable[[str], None]) -> None:
    """Draw what the slot box does not show: a layshaft box, in wood; then put the bus back."""
    bus = window.session.vehicle
    window.session.show(demo_vehicle("larkholm-timber-tractor"))
    window.session.engage("2")
    window.show_tab("Shift")
    tab = window.tab
    if isinstance(tab, ShiftTab):
        _shifters(window, tab, take)
    window.session.show(demo_vehicle("larkholm-timber-tractor"))
    window.session.engage("2")
    _template(window, take)
    _together(window, take)
    window.session.show(bus)
    window.session.engage("3")


def _template(window: Window, take: Callable[[str], None]) -> None:
    """Draw the template of a large gear with spokes; the tractor is put back afterwards."""
    window.show_tab("Workshop")
    tab = window.tab
    if isinstance(tab, WorkshopTab):
        tab.show_page("templates")
        window.session.do(Edit.one("Cut spokes", ("making", "web"), "spokes"))
        tab.templates_page.choose("gear 54 fixed")
        take("workshop-templates")
        window.session.undo_stack.undo()
        tab.show_page("parts")


def _together(window: Window, take: Callable[[str], None]) -> None:
    """Draw a step of the tractor's assembly, and its plan book."""
    window.show_tab("Workshop")
    tab = window.tab
    if isinstance(tab, WorkshopTab):
        tab.show_page("assembly")
        steps = tab.assembly_page.plan.steps
        for step in steps[:11]:
            window.session.do(tick_step(window.session.vehicle, step, done=True))
        tab.assembly_page.table.setCurrentCell(11, 1)
        _standing(tab.assembly_page.view)
        take("workshop-assembly")
        tab.show_page("book")
        book = tab.book_page
        book.start()
        window.worker.wait()
        waiting = QEventLoop()  # the viewer draws its pages on a thread of its own
        QTimer.singleShot(900, waiting.quit)
        waiting.exec()
        take("workshop-book")
        tab.show_page("parts")
    window.session.undo_stack.clear()


def _shifters(window: Window, tab: ShiftTab, take: Callable[[str], None]) -> None:
    """Draw the drum, and the sweeper's function box."""
    tractor, sweeper = (
        demo_vehicle(f"larkholm-{name}") for name in ("timber-tractor", "street-sweeper")
    )
    shifting = tractor.shifting.model_copy(update={"actuation": "drum"})
    window.session.show(tractor.model_copy(update={"shifting": shifting}))
    window.session.engage("2")
    tab.show_page("play")
    tab.play_page.go_to(0.59 * tab.play_page.seconds)
    _standing(tab.play_page.space)
    take("shift-play")
    window.session.show(sweeper)
    window.session.engage("2")
    tab.show_page("functions")
    tab.function_page.table.setCurrentCell(2, 0)
    take("shift-functions")
    tab.show_page("sleeves")
    window.session.undo_stack.clear()
