"""The fonts that printed sheets are set in; they ship with the program."""

import io
from functools import cache
from importlib import resources

from reportlab import rl_config
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

__all__ = ["register_fonts"]


@cache
def register_fonts() -> None:
    """Make ``Text``, ``Bold`` and ``Figure`` known to the PDF library."""
    rl_config.useA85 = 0  # plain binary streams: smaller, and a book takes half a second less
    folder = resources.files("mild_badger") / "data" / "fonts"
    for name, file in (
        ("Text", "B612-Regular.ttf"),
        ("Bold", "B612-Bold.ttf"),
        ("Figure", "RoutedGothic.ttf"),
    ):
        pdfmetrics.registerFont(TTFont(name, io.BytesIO((folder / file).read_bytes())))
