"""The window: strip, gear column, tabs, findings, status line."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QCloseEvent, QKeyEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QMenu,
    QPlainTextEdit,
    QProgressBar,
    QStackedWidget,
    QTabBar,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.field_note import hide_note
from mild_badger.app.drawing.marks import elided
from mild_badger.app.drawing.notice import Notice
from mild_badger.app.drawing.widgets import FitBar, button, caption
from mild_badger.app.files import Files
from mild_badger.app.findings.drawer import FindingsDrawer
from mild_badger.app.gear_column.column import GearColumn
from mild_badger.app.help.guide import Guide
from mild_badger.app.help.keys import KEYS_HELP
from mild_badger.app.kits.editor import KitDialog
from mild_badger.app.messages import tell
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings, own_kits_folder
from mild_badger.app.shifts import Shifts
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.strip.strip import Strip
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.tabs.tab import Tab
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.theme.style import Theme
from mild_badger.app.units_menu import UnitsMenu
from mild_badger.app.worker import Worker
from mild_badger.core.errors import BadgerError
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.findings.finding import Finding
from mild_badger.core.kit.catalogue import shipped_kit, shipped_kits
from mild_badger.core.kit.cautions import cautions
from mild_badger.core.layout.place_box import Placed
from mild_badger.core.lesson.catalogue import COURSES
from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import SetMatch
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.files.recovery import Recovery
from mild_badger.jobs.registry import Job
from mild_badger.text.pages import TABS as TAB_TITLES
from mild_badger.version import __version__

if TYPE_CHECKING:
    from mild_badger.app.printing.dialog import PrintPreview

__all__ = ["Window"]


KIT_PX = 290
"""Width in px from which on a kit's name is cut off in the status line."""
ROOMY = 1200
"""Width in px from which the findings drawer has its full width."""

TYPED_INTO = (QLineEdit, QAbstractItemView, QComboBox, QAbstractSpinBox, QPlainTextEdit)
"""While one of these has the keyboard, keys type and engage no gear."""


class Window(QMainWindow):
    """Puts one session on screen and sends what the builder does to it."""

    def __init__(self, session: Session, theme: Theme, settings: Settings) -> None:
        super().__init__()
        self.session, self.theme, self._settings = session, theme, settings
        self.worker, self.preparer = Worker(self), Worker(self)
        self._searching = ""
        self.preview: PrintPreview | None = None
        self._typing, self._noticed = False, None  # type: tuple[bool, int | None]
        self._shown_revision = 0
        self._written_in = units_in_force()
        self._gear_keys: list[tuple[QAction, list[QKeySequence]]] = []
        self.guide = Guide(
            self,
            session,
            where=self._where,
            show=self.show_page,
            complain=self.complain,
            teach=self.teach,
        )
        self.files = Files(session, settings, self)
        self.resize(1280, 800)
        self.setMinimumSize(1100, 700)
        self.strip, self.gears = Strip(theme), GearColumn(theme)
        self.drawer = FindingsDrawer(theme)
        self._tabs: dict[str, Tab] = {}
        self._build()
        self._menus()
        self._connect()
        self.refresh()

    def _build(self) -> None:
        self.tab_bar = FitBar()
        self.stack = QStackedWidget()
        for title in TABS:
            self.tab_bar.addTab(shown(TAB_TITLES[title]))
        self.stack.addWidget(self.tab)
        middle = QWidget()
        column = QVBoxLayout(middle)
        column.setContentsMargins(12, 4, 12, 8)
        column.setSpacing(6)
        column.addWidget(self.tab_bar)
        column.addWidget(self.stack, 1)
        self.notice = Notice(middle)
        self.notice_text = self.notice.text
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.gears)
        row.addWidget(middle, 1)
        row.addWidget(self.drawer)
        whole = QWidget()
        outer = QVBoxLayout(whole)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.strip)
        outer.addLayout(row, 1)
        outer.addWidget(self._status())
        self.setCentralWidget(whole)
        whole.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        whole.setFocus()
        self._whole = whole

    def _status(self) -> QFrame:
        frame = QFrame()
        frame.setObjectName("status")
        row = QHBoxLayout(frame)
        row.setContentsMargins(14, 2, 14, 2)
        row.setSpacing(18)
        self.kit_words = button("", self.edit_kit, "link")
        self.kit_words.setToolTip(say("window.look-at-the-kit-change-it-take-another"))
        self.school_button = button("", self._other_school, "link")
        self.school_button.setToolTip(say("window.write-ratios-the-other-way-everywhere"))
        self.speed_button = button("", self._other_speed, "link")
        self.speed_button.setToolTip(say("window.switch-scale-speed-rule-geometric-froude"))
        self.units = UnitsMenu(self.session, self._settings, self)
        self.units_button = button("", lambda: self.units.open_above(self.units_button), "link")
        self.saved_words = caption("", "soft")
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.progress.setFixedWidth(90)
        self.progress_words = caption(say("window.finding-the-set"), "soft")
        self.cancel = button(say("window.cancel"), self._cancel_search, "link")
        self._busy_widgets: tuple[QWidget, ...] = (self.progress_words, self.progress, self.cancel)
        for words in (self.kit_words, self.school_button, self.speed_button, self.units_button):
            row.addWidget(words)
        row.addStretch(1)
        for widget in (*self._busy_widgets, self.saved_words):
            row.addWidget(widget)
        self._busy(False)
        return frame

    def _menus(self) -> None:
        bar = self.menuBar()
        if bar is None:
            return
        keys = QKeySequence.StandardKey
        file = bar.addMenu(shown(say("window.file")))
        edit = bar.addMenu(shown(say("window.edit")))
        box = bar.addMenu(shown(say("window.gearbox")))
        view = bar.addMenu(shown(say("window.view")))
        about = bar.addMenu(shown(say("window.help")))
        if file is None or edit is None or box is None or view is None or about is None:
            return
        self._action(file, say("window.new"), self.files.new, keys.New)
        kits = file.addMenu(shown(say("window.new-with-kit")))
        if kits is not None:
            for name in shipped_kits():
                self._action(kits, shipped_kit(name).name, partial(self.files.new, name))
        self._action(file, say("window.open"), self.files.open_with_dialog, keys.Open)
        recent = file.addMenu(shown(say("window.open-recent")))
        if recent is not None:
            self.recent_menu = recent
            recent.aboutToShow.connect(self._fill_recent)
        demos = file.addMenu(shown(say("window.open-a-demo")))
        if demos is not None:
            for name, words in DEMOS.items():
                self._action(demos, words, partial(self.files.open_demo, name))
        self._action(file, say("window.save"), self.files.save, keys.Save)
        self._action(file, say("window.save-as-2"), self.files.save_with_dialog, "Ctrl+Shift+S")
        file.addSeparator()
        for name, kind in (
            (say("window.sheet-as-pdf"), "pdf"),
            (say("window.gears-as-csv"), "gears"),
            (say("window.p-arts-as-csv"), "parts"),
        ):
            self._action(file, name, partial(self.files.export_with_dialog, kind), None)
        file.addSeparator()
        self._action(file, say("window.print"), self.print_, "Ctrl+P")
        file.addSeparator()
        self._action(file, say("window.quit"), self.close, "Ctrl+Q")
        stack = self.session.undo_stack
        self._steps = (  # held here: Qt leaves these two to Python
            (stack.createUndoAction(self, say("window.undo")), "Ctrl+Z"),
            (stack.createRedoAction(self, say("window.redo")), "Ctrl+Shift+Z"),
        )
        for made, key in self._steps:
            if made is not None:
                made.setShortcut(key)
                edit.addAction(made)
        session, shifts = self.session, Shifts(self.session, self.complain)
        self._gear_action(box, say("window.neutral"), lambda: session.engage(None), "0")
        self._gear_action(box, say("window.reverse"), shifts.reverse, "R")
        for number in range(1, 10):
            name = say("window.forward-gear", number=number)
            self._gear_action(box, name, partial(shifts.forward, number), str(number))
        self._gear_action(box, say("window.shift-up"), partial(shifts.by, 1), "+", "=")
        self._gear_action(box, say("window.shift-down"), partial(shifts.by, -1), "-")
        box.addSeparator()
        self._action(box, say("window.find-the-set"), self.find_set, "Ctrl+F")
        self._action(box, say("window.compare-architectures"), self.compare, "Ctrl+Shift+F")
        self._action(box, say("window.kit"), self.edit_kit, "Ctrl+K")
        for title, (_, number) in TABS.items():
            self._action(view, TAB_TITLES[title], partial(self.show_tab, title), f"Ctrl+{number}")
        view.addSeparator()
        view.addMenu(self.units)
        self._action(view, say("window.show-ratios-as-output-input"), self._other_school, "Ctrl+T")
        self.dark = self._action(view, say("window.dark-sheet"), self._other_sheet, "Ctrl+D")
        self.dark.setCheckable(True)
        self.dark.setChecked(self.theme.dark)
        self._action(about, say("window.handbook"), self.guide.open_handbook, "F1")
        self._action(about, say("window.search"), self.guide.search, "F3")
        lessons = about.addMenu(shown(say("window.lessons")))
        if lessons is not None:
            for course in COURSES:
                self._action(lessons, course.title, partial(self.teach, course.key))
        self._action(about, say("window.keys"), partial(tell, self, "Keys", KEYS_HELP))
        self._action(
            about,
            say("window.cautions"),
            partial(tell, self, say("window.cautions-2"), "\n\n".join(cautions())),
        )
        words = say("window.mild-badger-plans-gearboxes-and-drivetrains", version=__version__)
        self._action(about, say("window.about"), partial(tell, self, "About", words))

    def _action(
        self,
        menu: QMenu,
        name: str,
        do: Callable[[], object],
        key: QKeySequence.StandardKey | str | None = None,
    ) -> QAction:
        made = QAction(shown(name), self)
        made.triggered.connect(lambda _checked=False: do())
        if key is not None:
            made.setShortcut(QKeySequence(key))
        menu.addAction(made)
        return made

    def _gear_action(self, menu: QMenu, name: str, do: Callable[[], object], *keys: str) -> None:
        """Add what a key does to the box; the key is let go of while something is typed into."""
        made = self._action(menu, name, do)
        made.setShortcuts([QKeySequence(key) for key in keys])
        self._gear_keys.append((made, made.shortcuts()))

    def _connect(self) -> None:
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._focus_changed)
        self.session.replaced.connect(self._clear_messages)
        self.session.changed.connect(self.refresh)
        self.session.refused.connect(self._refused)
        self.session.go_wanted.connect(self.show_page)
        self.files.trouble.connect(self.complain)
        self.files.done.connect(self.show_message)
        self.worker.busy.connect(self._busy)
        self.worker.failed.connect(self._search_failed)
        self.worker.told.connect(self._told)
        self.preparer.failed.connect(self.complain)
        self.tab_bar.currentChanged.connect(self._tab_changed)
        self.strip.chosen.connect(self.show_tab)
        self.gears.engage.connect(self.session.engage)
        self.drawer.mend.connect(self.session.do)
        self.drawer.go.connect(self.go_to)
        self.drawer.ask.connect(self.guide.explain)

    def refresh(self) -> None:
        """Show the session's evaluation in everything that is in view."""
        evaluation = self.session.evaluation
        vehicle = evaluation.vehicle
        if self._shown_revision != self.session.revision:
            self._shown_revision = self.session.revision
            hide_note(self)  # what was said of the document before no longer holds
            if self._noticed not in (None, self.session.revision):
                self.notice.hide()
        self._rewrite()
        self.strip.refresh(evaluation)
        self.gears.refresh(evaluation, self.session.school)
        self.drawer.refresh(evaluation)
        self.tab.bring_up_to_date()
        star = " *" if self.session.modified else ""
        name = vehicle.name.replace("[*]", "[*][*]")  # Qt's own mark for unsaved work
        self.setWindowTitle(shown(say("window.mild-badger", name=name, star=star)))
        made = say("window.gears-cut-as-needed") if vehicle.kit.made is not None else ""
        owned = say("window.gears", kit_gears=evaluation.kit_gears) if vehicle.kit.gears else ""
        words = say("window.kit-2", name=vehicle.kit.name, owned=owned, made=made)
        self.kit_words.setText(elided(words, self.kit_words.font(), KIT_PX))
        self.school_button.setText(say("window.ratios-as", value=self.session.school.value))
        name = "geometric" if vehicle.scale.speed_school == "geometric" else say("window.froude")
        self.speed_button.setText(say("window.scale-speed", name=name))
        self.units_button.setText(self.units.words())
        where = self.session.path.name if self.session.path else say("window.not-in-a-file-yet")
        self.saved_words.setText(
            f"{where} · {'unsaved changes' if self.session.modified else 'saved'}"
            if self.session.path or self.session.modified
            else where
        )

    def _rewrite(self) -> None:
        """Make the tabs anew where the units are others: labels and columns name them."""
        if self._written_in == units_in_force():
            return
        self._written_in = units_in_force()
        pages = {title: tab.page_key for title, tab in self._tabs.items()}
        for tab in self._tabs.values():
            self.stack.removeWidget(tab)
            tab.deleteLater()
        self._tabs.clear()
        for title, page in pages.items():
            if page:
                self.tab_of(title).show_thing(page, ())
        self.stack.setCurrentWidget(self.tab)

    @property
    def _title(self) -> str:
        return list(TABS)[max(self.tab_bar.currentIndex(), 0)]

    @property
    def tab(self) -> Tab:
        """The tab in view."""
        return self.tab_of(self._title)

    def tab_of(self, title: str) -> Tab:
        """Find a tab by its title; it is made when it is first wanted, which starts quicker."""
        if title not in self._tabs:
            made = TABS[title][0](self.session, self.theme)
            made.save_wanted.connect(self.files.save_text_with_dialog)
            made.bytes_wanted.connect(self.files.save_bytes_with_dialog)
            made.files_wanted.connect(self.files.save_many_with_dialog)
            made.pictures_wanted.connect(self.files.save_pictures_with_dialog)
            made.export_wanted.connect(self.files.export_with_dialog)
            made.search_wanted.connect(self._search)
            made.prepare_wanted.connect(self._prepare)
            made.targets_wanted.connect(self._import_targets)
            made.pulses_wanted.connect(self._choose_pulses)
            for bar in made.findChildren(QTabBar, "pages"):
                bar.currentChanged.connect(lambda _page: self._clear_messages())
            self._tabs[title] = made
            self.stack.addWidget(made)
        return self._tabs[title]

    def _choose_pulses(self, use: Callable[[Path], None]) -> None:
        path = self.files.pulses_with_dialog()
        if path is not None:
            use(path)

    def show_tab(self, title: str) -> None:
        """Go to a tab by its title."""
        self.tab_bar.setCurrentIndex(list(TABS).index(title))

    def go_to(self, finding: Finding) -> None:
        """Go to where a finding is seen to: tab and page, its gear engaged, its thing chosen."""
        kind = CATALOGUE.get(finding.code)
        if kind is None or not kind.tab:
            return
        gear = next((g for g in finding.where if self.session.vehicle.gear(g) is not None), None)
        if gear is not None:
            self.session.engage(gear)
        self.show_tab(kind.tab)
        self.tab.show_thing(kind.page, finding.where)

    def _where(self) -> tuple[str, str]:
        return self._title, self.tab.page_key

    def teach(self, lesson: str) -> None:
        """Go to a lesson by its key."""
        self.show_tab("Axle")
        self.tab.show_thing("lesson", (lesson,))
        self.activateWindow()

    def show_page(self, tab: str, page: str = "") -> None:
        """Go to a page of a tab, by its key."""
        self.show_tab(tab)
        if page:
            self.tab.show_thing(page, ())

    def print_(self) -> None:
        """Preview what the page in view prints: its own sheet, or else the plan book."""
        try:
            sheet = self.tab.printed()
        except BadgerError as error:
            self.complain(str(error))
            return
        if sheet is not None:
            self._preview(*sheet)
            return
        session = self.session
        job = Job("plan book", (session.vehicle, session.situation.gear, (), session.school))
        title = say("tab-workshop.plan-book")
        made = partial(self._preview, title)
        self._search(job, made, say("tab-workshop.making-the-book"))

    def _preview(self, title: str, data: bytes) -> None:
        # The PDF viewer and the printers are loaded when they are first wanted.
        from mild_badger.app.printing.dialog import PrintPreview  # noqa: PLC0415

        if self.preview is not None:
            self.preview.deleteLater()
        self.preview = PrintPreview(self, title, data)
        self.preview.open()

    def complain(self, sentence: str) -> None:
        """Tell the builder what could not be done."""
        self._notify(sentence, "problem")

    def _refused(self, sentence: str) -> None:
        """Say what was refused; whatever showed it as taken shows the document again."""
        self.tab.bring_up_to_date(again=True)
        self.complain(sentence)

    def show_message(self, sentence: str) -> None:
        """Tell the builder what was done."""
        self._notify(sentence, "")

    def offer_recovery(self) -> None:
        """Offer the newest work that an earlier run could not save."""
        drafts = self.files.left_behind()
        if not drafts:
            return
        newest = drafts[0]
        when = newest.written.astimezone().strftime("%d %B, %H:%M")
        more = say("window.older-kept", count_of_drafts=len(drafts) - 1) if len(drafts) > 1 else ""
        self._notify(
            say(
                "window.the-program-ended-before-of-was-saved",
                name=newest.vehicle.name,
                when=when,
                more=more,
            ),
            "strong",
            (say("window.recover-it"), lambda: self._recover(newest)),
            ("Later", self.notice.hide),
            lasting=True,
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.drawer.make_narrow(self.width() < ROOMY)
        super().resizeEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if self.files.may_leave():
            self.worker.finish()
            self.preparer.finish()
            self.files.close()
            self.guide.close()
            event.accept()
        else:
            event.ignore()

    def _recover(self, recovery: Recovery) -> None:
        if self.files.may_leave():
            self.files.recover(recovery)
            self.show_message(say("window.recovered-save-it-to-keep-it"))

    def _notify(
        self,
        sentence: str,
        role: str,
        *choices: tuple[str, Callable[[], object]],
        lasting: bool = False,
    ) -> None:
        self._noticed = None if lasting else self.session.revision
        self.notice.show_message(sentence, role, choices or (("Close", self.notice.hide),))

    def _clear_messages(self) -> None:
        """Take away what was said about a page or a document that is no longer in view."""
        hide_note(self)
        if self._noticed is not None:
            self.notice.hide()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self._clear_messages()
            self._whole.setFocus()  # out of a field or table: keys engage gears again
            return
        super().keyPressEvent(event)

    def _focus_changed(self, _old: QWidget | None, now: QWidget | None) -> None:
        """Let keys engage gears only while nothing that is typed into has the keyboard."""
        if now is not None and now.window() is not self:
            return
        typing = isinstance(now, TYPED_INTO)
        if typing != self._typing:
            self._typing = typing
            for action, keys in self._gear_keys:
                action.setShortcuts([] if typing else keys)
            self.gears.show_keys(act=not typing)

    def _tab_changed(self, _index: int) -> None:
        self._clear_messages()
        self.stack.setCurrentWidget(self.tab)
        self.tab.bring_up_to_date()

    def find_set(self) -> None:
        """Go to the tab Ratios and look for the set."""
        self.show_tab("Ratios")
        tab = self.tab
        if isinstance(tab, RatiosTab):
            tab.search()

    def compare(self) -> None:
        """Go to the comparison of architectures and start it."""
        self.show_tab("Ratios")
        tab = self.tab
        if isinstance(tab, RatiosTab):
            tab.show_page("compare")
            tab.compare_page.search()

    def edit_kit(self) -> KitDialog:
        """Open the kit editor."""
        dialog = KitDialog(self.session, own_kits_folder(), self)
        dialog.save_wanted.connect(self.files.save_kit_with_dialog)
        dialog.import_wanted.connect(self.files.import_kit_with_dialog)
        dialog.keep_wanted.connect(self.files.keep_kit)
        for sentence in (self.files.trouble, self.files.done):
            sentence.connect(dialog.complain)
        dialog.open()
        return dialog

    def _search(self, job: Job, show: Callable[[Any], None], words: str) -> None:
        self._searching = words
        self.progress_words.setText(words)
        self.progress.setValue(0)
        self.worker.start(job, show)

    def _told(self, share: float, best: object) -> None:
        """Show how far a search has come, and the best it has found."""
        self.progress.setValue(round(100 * min(max(share, 0.0), 1.0)))
        words = self._searching
        if isinstance(best, SetMatch):
            words += say(
                "window.best-so-far-gears",
                worst_error_percent=best.worst_error_percent,
                gears=best.cost.gears,
            )
        if isinstance(best, Placed):
            count = len(best.chosen)
            words += say("window.of-slots-placed", count=count, count_2=count + len(best.unplaced))
            layout = self._tabs.get("Layout")
            if isinstance(layout, LayoutTab):
                layout.whole_page.show_best(best)
        self.progress_words.setText(words)

    def _prepare(self, job: Job, take: Callable[[Any], None]) -> None:
        """Do quiet work, the newest only, then bring the tab in view up to date."""

        def ready(result: object) -> None:
            take(result)
            self.tab.bring_up_to_date(again=True)

        if not self.preparer.asks(job):
            self.preparer.start(job, ready)

    def _search_failed(self, sentence: str) -> None:
        self._say_stopped()
        self.complain(sentence)

    def _say_stopped(self) -> None:
        """Leave no page saying that it still searches."""
        for tab in self._tabs.values():
            tab.stopped()

    def _import_targets(self) -> None:
        text = self.files.text_with_dialog(say("window.import-targets"))
        tab = self.tab_of("Vehicle")
        if text is not None and isinstance(tab, VehicleTab):
            tab.take_targets(text)

    def _cancel_search(self) -> None:
        self.worker.cancel()
        self._say_stopped()

    def _busy(self, busy: bool) -> None:
        for widget in self._busy_widgets:
            widget.setVisible(busy)

    def _other_school(self) -> None:
        turns_in = self.session.school is RatioConvention.TURNS_IN
        self.session.write_in(RatioConvention.TURNS_OUT if turns_in else RatioConvention.TURNS_IN)

    def _other_speed(self) -> None:
        now = self.session.vehicle.scale.speed_school
        other = "froude" if now == "geometric" else "geometric"
        self.session.do(
            Edit.one(say("window.change-the-scale-speed"), ("scale", "speed_school"), other)
        )

    def _other_sheet(self) -> None:
        self.theme.use(dark=not self.theme.dark)
        self.dark.setChecked(self.theme.dark)
        self._settings.dark = self.theme.dark
        for tab in self._tabs.values():
            tab.bring_up_to_date(again=True)

    def _fill_recent(self) -> None:
        self.recent_menu.clear()
        for path in self._settings.recent:
            self._action(
                self.recent_menu,
                str(path).replace("&", "&&"),
                partial(self.files.open_recent, path),
            )
        if not self._settings.recent:
            none = self.recent_menu.addAction(shown(say("window.nothing-yet")))
            if none is not None:
                none.setEnabled(False)
