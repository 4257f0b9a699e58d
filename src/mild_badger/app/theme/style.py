"""The theme in force: fonts, style sheet, and the tokens that painting widgets ask for."""

from importlib import resources

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from mild_badger.app.theme.plain_tips import PlainTips
from mild_badger.app.theme.tokens import DARK, LIGHT, SIZES, Tokens

__all__ = ["Theme", "figure_font", "text_font"]

TEXT_FAMILY, FIGURE_FAMILY = "B612", "Routed Gothic"


def load_fonts() -> None:
    """Register the shipped fonts with Qt."""
    folder = resources.files("mild_badger") / "data" / "fonts"
    for file in ("B612-Regular.ttf", "B612-Bold.ttf", "RoutedGothic.ttf"):
        QFontDatabase.addApplicationFontFromData((folder / file).read_bytes())


def text_font(size: str = "text", *, bold: bool = False) -> QFont:
    """Font for text and tables."""
    font = QFont(TEXT_FAMILY)
    font.setPixelSize(SIZES[size])
    font.setBold(bold)
    return font


def figure_font(size: str = "tab") -> QFont:
    """Font for headings and figures on drawings."""
    font = QFont(FIGURE_FAMILY)
    font.setPixelSize(SIZES[size])
    return font


class Theme(QObject):
    """Which sheet is on the bench; widgets repaint on ``changed``."""

    changed = pyqtSignal()

    def __init__(self, app: QApplication, *, dark: bool = False) -> None:
        super().__init__(app)
        self._app = app
        self.tokens: Tokens = LIGHT
        self.dark = dark
        load_fonts()
        app.installEventFilter(PlainTips(self))
        self.use(dark=dark)

    def use(self, *, dark: bool) -> None:
        """Lay out the light or the dark sheet."""
        self.dark = dark
        self.tokens = DARK if dark else LIGHT
        self._app.setStyle("Fusion")
        self._app.setFont(text_font())
        self._app.setPalette(self._palette())
        self._app.setStyleSheet(self._sheet())
        self.changed.emit()

    def _palette(self) -> QPalette:
        palette, t = QPalette(), self.tokens
        role = QPalette.ColorRole
        for where, color in (
            (role.Window, t.sheet),
            (role.Base, t.paper),
            (role.AlternateBase, t.panel),
            (role.Button, t.panel),
            (role.WindowText, t.ink),
            (role.Text, t.ink),
            (role.ButtonText, t.ink),
            (role.ToolTipBase, t.paper),
            (role.ToolTipText, t.ink),
            (role.PlaceholderText, t.soft),
            (role.Highlight, t.run),
            (role.Link, t.run),
            (role.HighlightedText, self.tokens.paper),
        ):
            palette.setColor(where, color)
        for where in (role.Text, role.WindowText, role.ButtonText):
            palette.setColor(QPalette.ColorGroup.Disabled, where, t.soft)
        return palette

    def _sheet(self) -> str:
        c = self.tokens.css()
        return f"""
        QMainWindow, QDialog {{ background: {c["sheet"]}; }}
        QToolTip {{ background: {c["paper"]}; color: {c["ink"]}; border: 1px solid {c["hair"]};
            padding: 4px; }}
        QMenuBar {{ background: {c["panel"]}; padding: 2px 8px; }}
        QMenuBar::item {{ background: transparent; padding: 4px 10px; }}
        QMenuBar::item:selected, QMenu::item:selected {{ background: {c["run"]};
            color: {c["paper"]}; }}
        QMenu {{ background: {c["paper"]}; border: 1px solid {c["hair"]}; padding: 4px; }}
        QMenu::item {{ padding: 4px 24px 4px 16px; }}
        QMenu::item:disabled {{ color: {c["soft"]}; }}
        QMenu::separator {{ height: 1px; background: {c["hair"]}; margin: 4px 8px; }}
        QLabel[role="title"] {{ font-family: "{FIGURE_FAMILY}"; font-size: {SIZES["title"]}px; }}
        QLabel[role="head"] {{ font-family: "{FIGURE_FAMILY}"; font-size: {SIZES["tab"]}px; }}
        QLabel[role="soft"] {{ color: {c["soft"]}; }}
        QLabel[role="strong"] {{ font-weight: bold; }}
        QLabel[role="problem"] {{ color: {c["bad"]}; }}
        QLineEdit, QComboBox, QSpinBox, QPlainTextEdit {{ background: {c["paper"]};
            border: 1px solid {c["hair"]}; border-radius: 2px; padding: 3px 6px;
            selection-background-color: {c["run"]}; selection-color: {c["paper"]}; }}
        QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus, QTableView:focus,
        QSpinBox:focus {{ border: 1px solid {c["run"]}; }}
        QLabel#fieldNote {{ background: {c["paper"]}; color: {c["bad"]};
            border: 1px solid {c["bad"]}; border-radius: 2px; padding: 4px 8px; }}
        QFrame#notice {{ background: {c["panel"]}; border: 1px solid {c["soft"]};
            border-radius: 2px; }}
        QLineEdit[refused="true"] {{ border: 2px solid {c["bad"]}; }}
        QComboBox::drop-down {{ border: none; width: 18px; }}
        QComboBox::down-arrow {{ image: none; width: 0; height: 0; margin-right: 6px;
            border-left: 4px solid {c["paper"]}; border-right: 4px solid {c["paper"]};
            border-top: 5px solid {c["soft"]}; }}
        QComboBox QAbstractItemView {{ background: {c["paper"]}; border: 1px solid {c["hair"]}; }}
        QPushButton {{ background: {c["paper"]}; border: 1px solid {c["soft"]};
            border-radius: 2px; padding: 5px 12px; }}
        QToolButton {{ background: {c["paper"]}; border: 1px solid {c["soft"]};
            border-radius: 2px; padding: 5px 10px; }}
        QToolButton:hover, QToolButton:focus {{ border-color: {c["run"]}; }}
        QToolButton::menu-indicator {{ image: none; }}
        QToolButton[role="link"] {{ border: 1px solid transparent; background: transparent;
            color: {c["soft"]}; padding: 0; font-weight: bold; }}
        QToolButton[role="link"]:hover, QToolButton[role="link"]:focus {{
            border-color: {c["run"]}; color: {c["run"]}; }}
        QPushButton:hover, QPushButton:focus {{ border-color: {c["run"]}; }}
        QPushButton:pressed, QPushButton:checked {{ background: {c["run_wash"]};
            border-color: {c["run"]}; }}
        QPushButton:disabled {{ color: {c["soft"]}; border-color: {c["hair"]}; }}
        QPushButton[role="main"] {{ border: 1.5px solid {c["run"]}; color: {c["run"]};
            font-weight: bold; }}
        QPushButton[role="link"] {{ border: 1px solid transparent; background: transparent;
            color: {c["run"]}; text-align: left; padding: 2px 0px; font-weight: bold; }}
        QPushButton[role="link"]:hover {{ text-decoration: underline; }}
        QPushButton[role="link"]:focus {{ border: 1px dashed {c["run"]}; }}
        QTableView {{ background: {c["paper"]}; border: 1px solid {c["hair"]};
            gridline-color: {c["hair"]}; selection-background-color: {c["panel"]};
            selection-color: {c["ink"]}; }}
        QTableView::item:selected {{ background: {c["panel"]}; color: {c["ink"]}; }}
        QTableView::item:focus {{ border: 1px solid {c["run"]}; }}
        QHeaderView::section {{ background: {c["sheet"]}; color: {c["soft"]}; border: none;
            border-bottom: 1px solid {c["hair"]}; padding: 3px 6px; }}
        QCheckBox::indicator, QTableView::indicator {{ width: 12px; height: 12px;
            background: {c["paper"]}; border: 1px solid {c["soft"]}; border-radius: 2px; }}
        QCheckBox::indicator:checked, QTableView::indicator:checked {{
            background: {c["run"]}; border: 1px solid {c["run"]}; }}
        QCheckBox::indicator:focus {{ border-color: {c["run"]}; }}
        QTabBar {{ font-family: "{FIGURE_FAMILY}"; font-size: {SIZES["tab"]}px; }}
        QTabBar::tab {{ background: transparent; color: {c["soft"]}; padding: 6px 4px 6px 4px;
            margin-right: 18px; border-bottom: 3px solid transparent; }}
        QTabBar::tab:selected {{ color: {c["ink"]}; border-bottom: 3px solid {c["run"]}; }}
        QTabBar::tab:focus {{ color: {c["run"]}; }}
        QTabBar[fit="1"] {{ font-size: {SIZES["lead"]}px; }}
        QTabBar[fit="1"]::tab {{ margin-right: 8px; }}
        QTabBar[fit="2"] {{ font-size: {SIZES["text"]}px; }}
        QTabBar[fit="2"]::tab {{ margin-right: 2px; }}
        QTabWidget::pane {{ border: none; }}
        QTabBar#pages {{ font-family: "{TEXT_FAMILY}"; font-size: {SIZES["text"]}px; }}
        QTabBar#pages::tab {{ padding: 3px 4px; margin-right: 9px;
            border-bottom: 2px solid transparent; }}
        QTabBar#pages[fit="1"], QTabBar#pages[fit="2"] {{ font-size: {SIZES["small"]}px; }}
        QTabBar#pages[fit="1"]::tab {{ margin-right: 4px; }}
        QTabBar#pages[fit="2"]::tab {{ padding: 3px 2px; margin-right: 2px; }}
        QTabBar#pages::tab:selected {{ border-bottom: 2px solid {c["run"]}; }}
        QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
        QScrollBar:vertical {{ background: transparent; width: 10px; }}
        QScrollBar:horizontal {{ background: transparent; height: 10px; }}
        QScrollBar::handle {{ background: {c["hair"]}; border-radius: 4px; min-height: 24px;
            min-width: 24px; }}
        QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
        QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
        QSlider::groove:horizontal {{ height: 2px; background: {c["soft"]}; }}
        QSlider::handle:horizontal {{ background: {c["run"]}; width: 12px; margin: -7px 0;
            border-radius: 2px; }}
        QSlider::handle:horizontal:focus {{ background: {c["ink"]}; }}
        QProgressBar {{ border: 1px solid {c["hair"]}; background: {c["paper"]}; height: 8px; }}
        QProgressBar::chunk {{ background: {c["run"]}; }}
        QFrame#hair {{ background: {c["hair"]}; border: none; }}
        QFrame#panel {{ background: {c["panel"]}; border: none; }}
        QFrame#status {{ background: {c["paper"]}; border-top: 1px solid {c["hair"]}; }}
        QFrame#strip {{ background: {c["paper"]}; border-bottom: 1px solid {c["hair"]}; }}
        """
