"""Draw labels and findings from the catalogue at random, to be read by somebody who sees only them.

``python scripts/reading_check.py SEED [LABELS [FINDINGS]]`` prints them; what a reader takes each
for is noted by hand.
"""

import ast
import random
import sys
from pathlib import Path

from babel.messages.pofile import read_po

SOURCES = Path(__file__).parents[1] / "src" / "mild_badger"
CATALOGUE = SOURCES / "text" / "locale" / "en" / "LC_MESSAGES" / "mild_badger.po"
MOST_LABEL_WORDS = 6


def titles_of_findings() -> list[tuple[str, str]]:
    """List the codes of title and text of every finding in the sources."""
    pairs = []
    for path in sorted((SOURCES / "core").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Finding":
                codes = [
                    str(inner.args[0].value)
                    for part in node.args[3:5]
                    for inner in ast.walk(part)
                    if isinstance(inner, ast.Call)
                    and getattr(inner.func, "id", "") == "say"
                    and isinstance(inner.args[0], ast.Constant)
                ]
                if len(codes) > 1:
                    pairs.append((codes[0], codes[1]))
    return pairs


def main() -> None:
    """Print the draw of a seed."""
    seed, labels, findings = (*map(int, sys.argv[1:]), 30, 15)[:3]
    with CATALOGUE.open("rb") as stream:
        words = {m.id: m.string for m in read_po(stream) if isinstance(m.id, str) and m.id}
    short = sorted(
        code
        for code, text in words.items()
        if 1 < len(text.split()) <= MOST_LABEL_WORDS
        and text[:1].isalnum()
        and code.startswith(("tab", "window", "kits", "drawing"))
    )
    draw = random.Random(seed)
    lines = [f"{code}: {words[code]}" for code in draw.sample(short, labels)]
    for title, text in draw.sample(titles_of_findings(), findings):
        lines.append(f"{words.get(title)} | {words.get(text)}")
    sys.stdout.write("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
