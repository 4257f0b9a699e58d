"""Opening, saving and recovering: the window's dealings with files."""

import os
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from mild_badger.app.messages import ask, message_box
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings, own_kits_folder, recovery_folder
from mild_badger.core.errors import BadgerError
from mild_badger.core.kit.catalogue import KIT_SUFFIX, kit_text, shipped_kit
from mild_badger.core.mesh.describe import duplicate_name
from mild_badger.core.message import say
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.targets.table import targets_csv
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.kit_file import kits_in, load_kit
from mild_badger.files.reader import FileStamp, read_text
from mild_badger.files.recovery import Recovery, discard_recovery, find_recoveries, write_recovery
from mild_badger.files.vehicle_file import SUFFIX, open_vehicle, save, save_unchanged
from mild_badger.files.writer import FileChangedError, write_file

__all__ = ["Files", "new_vehicle", "picture_of"]

RECOVERY_DELAY_MS = 400
KITS = say("window.kits-all-files", kit_suffix=KIT_SUFFIX)
FILTER = say("window.vehicles-all-files", suffix=SUFFIX)
EXPORTS = {
    "pdf": ("sheet.pdf", say("window.pdf-pdf")),
    "gears": ("gears.csv", say("window.csv-csv")),
    "parts": ("parts.csv", say("window.csv-csv")),
    "targets": ("targets.csv", say("window.csv-csv")),
    "drum": ("drum.svg", say("window.svg-svg-dxf-dxf")),
    "even drum": ("even-drum.svg", say("window.svg-svg-dxf-dxf")),
    "template": ("template.pdf", say("window.pdf-pdf-svg-svg-dxf-dxf-stl-stl")),
    "strip": ("detent-strip.svg", say("window.svg-svg-dxf-dxf-stl-stl")),
}


TEMPLATE = "template "
"""What the name of a template's export begins with; its key follows."""


def new_vehicle(kit: str, settings: Settings) -> Vehicle:
    """Make an empty vehicle with a shipped kit, in the units that were chosen last."""
    vehicle = blank_vehicle(shipped_kit(kit))
    return vehicle.model_copy(update={"units": settings.units or vehicle.units})


class Files(QObject):
    """Keeps the session's document on disk.

    Signals
    -------
    trouble : a sentence about a file that could not be used
    done : a sentence about what was written
    """

    trouble = pyqtSignal(str)
    done = pyqtSignal(str)

    def __init__(self, session: Session, settings: Settings, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._settings, self._window = session, settings, window
        self._copy: Path | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(RECOVERY_DELAY_MS)
        self._timer.timeout.connect(self.keep_copy)
        self._seen = (session.revision, session.modified)
        session.changed.connect(self._changed)

    def new(self, kit: str = "brick-grid") -> None:
        """Put an empty vehicle with a shipped kit on the bench."""
        if self.may_leave():
            self._session.open(new_vehicle(kit, self._settings), None)

    def open_demo(self, name: str) -> None:
        """Put a demo vehicle on the bench."""
        if self.may_leave():
            self._session.open(demo_vehicle(name), None)

    def open_with_dialog(self) -> None:
        """Ask for a file and open it."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(
            self._window, say("window.open-a-vehicle"), self._folder(), FILTER
        )
        if name:
            self.open(Path(name))

    def open_recent(self, path: Path) -> None:
        """Open a file from the list of recent ones."""
        if self.may_leave():
            self.open(path)

    def open(self, path: Path) -> bool:
        """Open a file; where that fails the document on the bench stays."""
        try:
            vehicle, stamp = open_vehicle(path)
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        self._session.open(vehicle, path, stamp)
        self._settings.opened(path.resolve())
        return True

    def save(self) -> bool:
        """Save under the document's name, or ask for one."""
        if self._session.path is None:
            return self.save_with_dialog()
        return self.save_to(self._session.path)

    def save_with_dialog(self) -> bool:
        """Ask for a name and save."""
        start = self._session.path or Path(self._folder()) / (_file_name(self._session) + SUFFIX)
        name, _ = QFileDialog.getSaveFileName(
            self._window, say("window.save-the-vehicle"), str(start), FILTER
        )
        if not name:
            return False
        path = Path(name)
        if not path.name.endswith(".json"):
            path = path.with_name(path.name + SUFFIX)
            if path.exists() and not self._may_replace(path):
                return False
        return self.save_to(path)

    def save_to(self, path: Path) -> bool:
        """Save to a path; nothing is lost where that fails, or where others saved meanwhile."""
        # A path chosen in the dialog was agreed to be replaced there; the document's own was not.
        own = self._session.path is not None and _same_file(path, self._session.path)
        try:
            stamp = (
                save_unchanged(self._session.vehicle, path, self._session.stamp)
                if own
                else save(self._session.vehicle, path)
            )
        except FileChangedError as error:
            return self._settle_conflict(path, str(error))
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        return self._note_saved(path, stamp)

    def _settle_conflict(self, path: Path, sentence: str) -> bool:
        """Ask what to do where somebody else wrote the file; True where the work was saved."""
        box = message_box(
            self._window,
            say("window.the-file-was-changed"),
            say("window.what-shall-be-done", sentence=sentence),
        )
        role = QMessageBox.ButtonRole
        reload = box.addButton(say("window.reload-the-file-drop-my-changes"), role.DestructiveRole)
        other = box.addButton(say("window.save-as"), role.AcceptRole)
        over = box.addButton(say("window.overwrite-the-file"), role.DestructiveRole)
        cancel = box.addButton(QMessageBox.StandardButton.Cancel)
        box.setEscapeButton(cancel)
        box.setDefaultButton(other)
        box.exec()
        answer = box.clickedButton()
        box.deleteLater()
        if answer is reload:
            self.open(path)
            return False
        if answer is other:
            return self.save_with_dialog()
        if answer is not over:
            return False
        try:
            stamp = save(self._session.vehicle, path)
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        return self._note_saved(path, stamp)

    def _note_saved(self, path: Path, stamp: FileStamp) -> bool:
        self._session.saved(path, stamp)
        self._settings.opened(path.resolve())
        self._forget_copy()
        self.done.emit(say("window.saved", name=path.name))
        return True

    def export_with_dialog(self, kind: str) -> None:
        """Ask where to write the sheet or a table."""
        name, pattern = EXPORTS["template" if kind.startswith(TEMPLATE) else kind]
        if kind.startswith(TEMPLATE):
            name = f"{kind.removeprefix(TEMPLATE).replace(' ', '-')}.pdf"
        start = Path(self._folder()) / f"{_file_name(self._session)}-{name}"
        chosen, taken = QFileDialog.getSaveFileName(
            self._window, say("window.write", name=name), str(start), pattern
        )
        if chosen:
            path = Path(chosen)
            wanted = taken.rpartition("*")[2].rstrip(")")  # the kind of file that was chosen
            if ";;" in pattern and wanted and path.suffix.lower() != wanted:
                path = path.with_suffix(wanted)
                if path.exists() and not self._may_replace(path):
                    return
            self.export_to(kind, path)

    def export_to(self, kind: str, path: Path) -> bool:
        """Write the sheet or a table."""
        evaluation = self._session.evaluation
        if kind == "pdf":
            # The PDF library is loaded when the first sheet is written, not at every start.
            from mild_badger.core.publish.sheet import sheet_pdf  # noqa: PLC0415

            data = sheet_pdf(evaluation, school=self._session.school)
        elif kind == "targets":
            data = targets_csv(evaluation.vehicle.real).encode()
        elif kind in ("drum", "even drum", "strip"):
            # The drawing libraries are loaded when the first drawing is written.
            from mild_badger.core.publish.drawings import drawing_data  # noqa: PLC0415

            data = drawing_data(evaluation.vehicle, kind, path.suffix.lower().removeprefix("."))
        elif kind.startswith(TEMPLATE):
            # The drawing libraries are loaded when the first template is written.
            from mild_badger.core.publish.drawings import template_data  # noqa: PLC0415

            form = path.suffix.lower().removeprefix(".")
            try:
                data = template_data(evaluation.vehicle, kind.removeprefix(TEMPLATE), form)
            except BadgerError as error:
                self.trouble.emit(str(error))
                return False
        else:
            data = (gears_csv if kind == "gears" else parts_csv)(evaluation).encode()
        try:
            write_file(path, data)
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        self.done.emit(say("window.wrote", name=path.name))
        return True

    def save_pictures_with_dialog(self, views: dict[str, QWidget]) -> None:
        """Ask for a name and write views as pictures beside one another: NAME-end, NAME-stack."""
        start = Path(self._folder()) / f"{_file_name(self._session)}-layout.svg"
        chosen, taken = QFileDialog.getSaveFileName(
            self._window, say("window.save-the-views"), str(start), say("window.svg-svg-png-png")
        )
        if not chosen:
            return
        path = Path(chosen)
        form = ".png" if path.suffix.lower() == ".png" or "png" in taken else ".svg"
        for name, view in views.items():
            target = path.with_name(f"{path.stem}-{name}{form}")
            try:
                write_file(target, picture_of(view, form.removeprefix(".")))
            except BadgerError as error:
                self.trouble.emit(str(error))
                return
        self.done.emit(
            say("window.wrote-2", listed=", ".join(f"{path.stem}-{name}{form}" for name in views))
        )

    def save_text_with_dialog(self, name: str, text: str) -> None:
        """Ask where to write a text, and write it."""
        self.save_bytes_with_dialog(name, text.encode())

    def save_bytes_with_dialog(self, name: str, data: bytes) -> None:
        """Ask where to write a file, and write it."""
        start = Path(self._folder()) / f"{_file_name(self._session)}-{name}"
        chosen, _ = QFileDialog.getSaveFileName(
            self._window, say("window.write", name=name), str(start)
        )
        if not chosen:
            return
        try:
            write_file(Path(chosen), data)
        except BadgerError as error:
            self.trouble.emit(str(error))
            return
        self.done.emit(say("window.wrote", name=Path(chosen).name))

    def save_many_with_dialog(self, files: dict[str, bytes]) -> None:
        """Ask for a folder and write files into it; what is there of these names is replaced."""
        chosen = QFileDialog.getExistingDirectory(
            self._window,
            say("window.write-files-into-a-folder", count_of_files=len(files)),
            self._folder(),
        )
        if not chosen:
            return
        done = 0
        try:
            for name, data in files.items():
                write_file(Path(chosen) / name, data)
                done += 1
        except BadgerError as error:
            self.trouble.emit(
                say(
                    "window.of-files-were-written-then",
                    done=done,
                    count_of_files=len(files),
                    error=error,
                )
            )
            return
        self.done.emit(say("window.wrote-files-into", done=done, name=Path(chosen).name))

    def save_kit_with_dialog(self) -> None:
        """Ask where to write the vehicle's kit as a kit file."""
        kit = self._session.vehicle.kit
        start = Path(self._folder()) / (_plain_name(kit.name) + KIT_SUFFIX)
        name, _ = QFileDialog.getSaveFileName(
            self._window, say("window.save-the-kit"), str(start), KITS
        )
        if name:
            path = Path(name)
            if not path.name.endswith(".json"):
                path = path.with_name(path.name + KIT_SUFFIX)
            self.save_kit_to(path)

    def save_kit_to(self, path: Path) -> bool:
        """Write the vehicle's kit as a kit file."""
        try:
            write_file(path, kit_text(self._session.vehicle.kit).encode())
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        self.done.emit(say("window.wrote", name=path.name))
        return True

    def keep_kit(self) -> bool:
        """Keep a copy of the vehicle's kit among the builder's own, and use that copy."""
        folder = own_kits_folder()
        kit = self._session.vehicle.kit
        taken = {path.name.removesuffix(KIT_SUFFIX) for path in kits_in(folder)}
        name = duplicate_name(kit.name, taken)
        copy = kit.model_copy(update={"name": name})
        try:
            folder.mkdir(parents=True, exist_ok=True)
            write_file(folder / (name + KIT_SUFFIX), kit_text(copy).encode())
        except OSError as error:  # FileAccessError is one
            self.trouble.emit(say("window.the-kit-cannot-be-kept-in", folder=folder, error=error))
            return False
        self._session.do(Edit.one(say("window.use-the-kit", name=name), ("kit",), copy))
        self.done.emit(say("window.kept-as-it-can-be-taken-from-the-list-of", name=name))
        return True

    def import_kit_with_dialog(self) -> None:
        """Ask for a kit file and take it."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, say("window.import-a-kit"), self._folder(), KITS
        )
        if name:
            self.import_kit(Path(name))

    def import_kit(self, path: Path) -> bool:
        """Use the kit of a file; where that fails the present one stays."""
        try:
            kit = load_kit(str(path))
        except BadgerError as error:
            self.trouble.emit(str(error))
            return False
        return self._session.do(Edit.one(say("window.use-the-kit", name=kit.name), ("kit",), kit))

    def pulses_with_dialog(self) -> Path | None:
        """Ask for a file or a device to read a tachometer's lines from."""
        name, _ = QFileDialog.getOpenFileName(
            self._window,
            say("window.read-pulses-from-a-file-or-a-device"),
            self._folder(),
            say("window.pulses-csv-txt-log-all-files-and-devices"),
        )
        return Path(name) if name else None

    def text_with_dialog(self, title: str) -> str | None:
        """Ask for a text file and read it; None where nothing was chosen or it cannot be read."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, title, self._folder(), say("window.tables-csv-txt-tsv-all-files")
        )
        if not name:
            return None
        try:
            return read_text(Path(name))
        except BadgerError as error:
            self.trouble.emit(str(error))
            return None

    def may_leave(self) -> bool:
        """Ask what to do with unsaved changes; True where the document may be put away."""
        if not self._session.modified:
            return True
        answer = ask(
            self._window,
            say("window.unsaved-changes"),
            say("window.has-changes-that-are-not-saved-save-them", name=self._session.vehicle.name),
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        if answer == QMessageBox.StandardButton.Discard:
            self._forget_copy()
            return True
        return False

    def left_behind(self) -> list[Recovery]:
        """List the work that an earlier run could not save."""
        return find_recoveries(recovery_folder())

    def recover(self, recovery: Recovery) -> None:
        """Open a recovery copy as unsaved changes of its file."""
        self._session.open(recovery.vehicle, recovery.original, recovery.stamp, unsaved=True)
        self.keep_copy()
        discard_recovery(recovery.file)

    def keep_copy(self) -> None:
        """Write the recovery copy now."""
        self._timer.stop()
        if not self._session.modified:
            return
        try:
            self._copy = write_recovery(
                recovery_folder(), self._session.vehicle, self._session.path, self._session.stamp
            )
        except BadgerError as error:
            self.trouble.emit(say("window.no-recovery-copy-could-be-kept", error=error))

    def close(self) -> None:
        """Put everything away; what is unsaved now was meant to be."""
        self._timer.stop()
        self._forget_copy()

    def _changed(self) -> None:
        state = (self._session.revision, self._session.modified)
        if state == self._seen:
            return
        self._seen = state
        if self._session.modified:
            self._timer.start()
        else:
            self._forget_copy()

    def _forget_copy(self) -> None:
        self._timer.stop()
        if self._copy is not None:
            discard_recovery(self._copy)
            self._copy = None

    def _folder(self) -> str:
        return str(self._session.path.parent if self._session.path else Path.home())

    def _may_replace(self, path: Path) -> bool:
        answer = ask(
            self._window,
            say("window.replace-the-file"),
            say("window.is-there-already-replace-it", name=path.name),
            QMessageBox.StandardButton.Yes | QMessageBox.StandardButton.No,
        )
        return answer == QMessageBox.StandardButton.Yes


def _same_file(one: Path, other: Path) -> bool:
    return os.path.realpath(one) == os.path.realpath(other)


def picture_of(view: QWidget, form: str) -> bytes:
    """Draw a view as it stands: SVG in its own size, or PNG at twice its pixels."""
    data = QBuffer()
    data.open(QIODevice.OpenModeFlag.WriteOnly)
    if form == "svg":
        # Loaded when the first drawing is written, not at every start.
        from PyQt6.QtSvg import QSvgGenerator  # noqa: PLC0415

        drawing = QSvgGenerator()
        drawing.setOutputDevice(data)
        drawing.setSize(view.size())
        drawing.setViewBox(view.rect())
        drawing.setTitle(view.accessibleName())
        view.render(drawing)
    else:
        image = QImage(view.size() * 2, QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(2.0)
        view.render(image)
        image.save(data, "PNG")
    return bytes(data.data().data())


def _file_name(session: Session) -> str:
    """Make a file name from the vehicle's name."""
    return _plain_name(session.vehicle.name) or "vehicle"


def _plain_name(name: str) -> str:
    kept = "".join(c if c.isalnum() else "-" for c in name.lower())
    return "-".join(filter(None, kept.split("-")))[:60]
