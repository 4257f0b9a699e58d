"""The handbook opens where the builder is, findings explain themselves, anything is found."""

from html import unescape

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt, QUrl
from PyQt6.QtGui import QHelpEvent, QImage
from PyQt6.QtWidgets import QApplication, QToolTip, QWidget
from pytestqt.qtbot import QtBot

from mild_badger.app.drawing.fields import FieldForm
from mild_badger.app.help.index import FIELD_PAGES
from mild_badger.app.help.search import SearchDialog
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.plain_tips import PlainTips, with_term
from mild_badger.app.window import Window
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.message import say
from mild_badger.core.publish.glossary import glossary, term_in
from mild_badger.core.vehicle.field_texts import field_texts
from mild_badger.text.handbook import chapter_text, picture_of, place_of
from mild_badger.text.pages import PAGES

pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def searching(qtbot: QtBot, window: Window, typed: str) -> SearchDialog:
    """Press F3 and type."""
    qtbot.keyClick(window, Qt.Key.Key_F3)
    dialog = window.findChildren(SearchDialog)[-1]
    qtbot.keyClicks(dialog.line, typed)
    return dialog


def test_the_pages_of_the_window_are_those_of_the_handbook(window: Window) -> None:
    assert list(TABS) == list(PAGES)
    for title in TABS:
        tab = window.tab_of(title)
        if not isinstance(tab, PagedTab):
            assert tuple(PAGES[title]) == ("",)
            continue
        assert tuple(tab.keys) == tuple(PAGES[title])
        for number, (key, known) in enumerate(PAGES[title].items()):
            # the page of the lever is called by what moves the forks
            assert key == "actuator" or tab.pages.tabText(number) == known


@pytest.mark.parametrize(("tab", "page"), [("Vehicle", ""), ("Layout", "stack"), ("Axle", "turn")])
def test_f1_opens_the_handbook_at_the_page_in_view(
    qtbot: QtBot, window: Window, tab: str, page: str
) -> None:
    window.show_page(tab, page)
    qtbot.keyClick(window, Qt.Key.Key_F1)
    handbook = window.guide.handbook
    assert handbook is not None
    qtbot.addWidget(handbook)
    qtbot.waitExposed(handbook)
    chapter, heading = place_of(tab, page)
    assert handbook.chapter == chapter
    assert handbook.page.toPlainText().splitlines()[0] == chapter_text(chapter)[2:].split("\n")[0]
    qtbot.waitUntil(lambda: handbook.heading_in_view() == heading, timeout=3000)
    document = handbook.page.document()
    assert document is not None
    assert document.toMarkdown().count("![") == chapter_text(chapter).count("![")


def test_a_finding_is_explained_where_its_question_mark_is_pressed(
    qtbot: QtBot, window: Window
) -> None:
    card = window.drawer.cards[0]
    qtbot.mouseClick(card.ask, Qt.MouseButton.LeftButton)
    handbook = window.guide.handbook
    assert handbook is not None
    qtbot.addWidget(handbook)
    kind = CATALOGUE[card.finding.code]
    chapter, heading = place_of(kind.tab, kind.page)
    assert handbook.chapter == chapter
    qtbot.waitUntil(lambda: handbook.heading_in_view() == heading, timeout=3000)
    # a link leads on, and Back returns to the section
    handbook._follow(QUrl("cautions.md"))
    assert handbook.chapter == "cautions"
    qtbot.mouseClick(handbook.back, Qt.MouseButton.LeftButton)
    assert handbook.chapter == chapter
    assert heading
    qtbot.waitUntil(lambda: handbook.heading_in_view() == heading, timeout=3000)


def test_a_gear_a_page_a_field_and_a_term_are_found(qtbot: QtBot, window: Window) -> None:
    dialog = searching(qtbot, window, "gear 3")
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert window.session.situation.gear == "3"
    dialog = searching(qtbot, window, "required stability")
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert (window.tab_bar.tabText(window.tab_bar.currentIndex()), window.tab.page_key) == (
        "Machine",
        "balance",
    )
    dialog = searching(qtbot, window, "backlash")
    first = dialog.hits.item(0)
    assert first is not None
    assert first.text().startswith("Backlash ")
    assert dialog.about.text() == glossary()["Backlash"]
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    assert window.guide.handbook is not None
    qtbot.addWidget(window.guide.handbook)
    assert window.guide.handbook.chapter == "glossary"
    dialog = searching(qtbot, window, "zebra crossing")
    assert dialog.hits.count() == 0
    assert dialog.about.text() == say("help.nothing-has-all-these-words")
    dialog.close()


def test_every_field_that_is_found_leads_to_a_page() -> None:
    known = {key.split(".")[0] for key in field_texts()}
    for model, (tab, page) in FIELD_PAGES.items():
        assert model in known, model
        assert page in PAGES[tab], model


def test_a_command_is_done(qtbot: QtBot, window: Window) -> None:
    dialog = searching(qtbot, window, "dark sheet")
    qtbot.keyClick(dialog.line, Qt.Key.Key_Return)
    QApplication.processEvents()
    assert window.theme.dark


def hover(qtbot: QtBot, widget: QWidget, at: QPoint) -> str:
    """Hold the mouse over a place until its tip stands there; give the tip."""
    QToolTip.hideText()
    event = QHelpEvent(QEvent.Type.ToolTip, at, widget.mapToGlobal(at))
    QApplication.sendEvent(widget, event)
    return QToolTip.text()


def test_the_glossary_explains_what_is_under_the_mouse(qtbot: QtBot, window: Window) -> None:
    app = QApplication.instance()
    assert app is not None
    tips = PlainTips(app)
    app.installEventFilter(tips)
    try:
        window.show_tab("Workshop")
        window.tab.show_page("templates")  # type: ignore[attr-defined]
        fields = window.tab.page_in_view.findChildren(FieldForm)  # type: ignore[attr-defined]
        kerf = next(form.entries["kerf_mm"] for form in fields if "kerf_mm" in form.entries)
        tip = hover(qtbot, kerf, QPoint(4, 4))
        assert glossary()["Kerf"] in unescape(tip)
        assert str(picture_of("Kerf")) in tip
        assert QImage(str(picture_of("Kerf"))).width() > 100
        window.show_tab("Vehicle")
        table = window.tab.table  # type: ignore[attr-defined]
        head = table.horizontalHeader()
        titles = [table.horizontalHeaderItem(n).text() for n in range(table.columnCount())]
        column = next(n for n, title in enumerate(titles) if term_in(title))
        x = head.sectionViewportPosition(column) + 5
        assert glossary()[term_in(titles[column])] in unescape(
            hover(qtbot, head.viewport(), QPoint(x, 6))
        )
    finally:
        app.removeEventFilter(tips)
        QToolTip.hideText()


def test_a_name_is_no_markup_and_a_plain_tip_stays_plain() -> None:
    assert with_term("a <b>bold</b> name", "name") == (
        '<p style="white-space: pre-wrap">a &lt;b&gt;bold&lt;/b&gt; name</p>'
    )
    assert with_term("length", "Notes") == "length"
    assert term_in("Sleeves, thin") == "Sleeve"
    assert term_in("Nothing of the kind") == ""
