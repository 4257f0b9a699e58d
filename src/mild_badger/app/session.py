"""The document in work: the undo stack, the situation being tried, and their evaluation."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoStack

from mild_badger.app.commands import EditCommand
from mild_badger.app.shown import shown, use_units
from mild_badger.core.axle.road_state import Road
from mild_badger.core.driveline.assemble import lettered
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.functions.letters import with_function_letters
from mild_badger.core.situation import Situation
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.reader import FileStamp

__all__ = ["Session"]


class Session(QObject):
    """One open vehicle. Screens read ``evaluation`` and send edits; they change nothing else.

    Signals
    -------
    changed : the evaluation, the path or the school is new
    refused : an edit or an input that cannot be used, as a sentence
    replaced : another document, or an undone or redone step, is about to be shown
    part_chosen : the key of the part that is chosen in every picture, "" for none
    go_wanted : a tab and its page are to be shown
    """

    changed = pyqtSignal()
    refused = pyqtSignal(str)
    replaced = pyqtSignal()
    part_chosen = pyqtSignal(str)
    go_wanted = pyqtSignal(str, str)

    def __init__(self, vehicle: Vehicle, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.undo_stack = QUndoStack(self)
        self.undo_stack.cleanChanged.connect(self._clean_changed)
        self.path: Path | None = None
        self.stamp: FileStamp | None = None
        self.school = RatioConvention.TURNS_IN
        self.revision = 0
        self.part = ""
        self._editing = False
        self._refusals: list[str] | None = None
        self._situation = Situation()
        use_units(vehicle.shown_in)
        self.evaluation: Evaluation = evaluate(vehicle, self._situation)

    @property
    def vehicle(self) -> Vehicle:
        """The document as it stands."""
        return self.evaluation.vehicle

    @property
    def situation(self) -> Situation:
        """What is being tried out."""
        return self.evaluation.situation

    @property
    def modified(self) -> bool:
        """Whether there is something to save."""
        return not self.undo_stack.isClean()

    def open(
        self,
        vehicle: Vehicle,
        path: Path | None,
        stamp: FileStamp | None = None,
        *,
        unsaved: bool = False,
    ) -> None:
        """Put another vehicle on the bench; ``stamp`` is what its file was when it was read."""
        self.undo_stack.clear()
        if unsaved:
            self.undo_stack.resetClean()
        self.path, self.stamp = path, stamp
        self._situation = Situation()
        self.choose("")
        self.show(vehicle)

    def do(self, edit: Edit, *, merge: str = "") -> bool:
        """Apply an edit; False where it was refused, with the reason in ``refused``.

        Edits in a row with the same ``merge`` key are undone as one.
        """
        return self.do_each(edit.label, [lambda _vehicle: edit], merge=merge)

    def do_each(
        self, label: str, makers: Sequence[Callable[[Vehicle], Edit]], *, merge: str = ""
    ) -> bool:
        """Apply edits in a row, each made for what the one before left, all of them or none."""
        changed = self.vehicle
        try:
            for make in makers:
                changed = apply_edit(changed, make(changed))
        except BadgerError as error:
            self.refuse(str(error))
            return False
        if changed != self.vehicle:
            changed = with_function_letters(lettered(changed))
            self._editing = True
            try:
                self.undo_stack.push(EditCommand(self, label, self.vehicle, changed, merge))
            finally:
                self._editing = False
        return True

    def refuse(self, sentence: str) -> None:
        """Say that something cannot be done: beside the field that asked, or else on the page."""
        if self._refusals is None:
            self.refused.emit(shown(sentence))
        else:
            self._refusals.append(shown(sentence))

    def refusal_of(self, commit: Callable[[], object]) -> str:
        """Run what a field sends; give what was refused, which is then said beside that field."""
        before, self._refusals = self._refusals, []
        try:
            taken = commit()
        except BadgerError as error:
            return shown(str(error))
        else:
            return self._refusals[0] if self._refusals and not taken else ""
        finally:
            self._refusals = before

    def show(self, vehicle: Vehicle) -> None:
        """Evaluate a vehicle and tell every screen."""
        if not self._editing:  # another document, or a step back: no draft concerns it
            self.replaced.emit()
        self.revision += 1
        use_units(vehicle.shown_in)
        self.evaluation = evaluate(vehicle, self._situation)
        self.changed.emit()

    def choose(self, part: str) -> None:
        """Choose a part by its key in every picture; "" for none."""
        if part != self.part:
            self.part = part
            self.part_chosen.emit(part)

    def engage(self, gear: str | None) -> None:
        """Engage a gear, or neutral."""
        self._try(replace(self._situation, gear=gear))

    def drive(self, road: Road) -> None:
        """Put the axle on another road."""
        self._try(replace(self._situation, road=road))

    def release(self, released: bool) -> None:
        """Press the clutch's pedal, or let it go."""
        self._try(replace(self._situation, released=released))

    def lock(self, locked: bool) -> None:
        """Close or open the differential's lock."""
        self._try(replace(self._situation, locked=locked))

    def write_in(self, school: RatioConvention) -> None:
        """Show and read ratios in the other school."""
        self.school = school
        self.changed.emit()

    def saved(self, path: Path, stamp: FileStamp) -> None:
        """Take note that the document was written."""
        self.path, self.stamp = path, stamp
        self.undo_stack.setClean()
        self.changed.emit()

    def _clean_changed(self, _clean: bool) -> None:
        self.changed.emit()

    def _try(self, situation: Situation) -> None:
        self._situation = situation
        self.evaluation = evaluate(self.vehicle, situation)
        self.changed.emit()
