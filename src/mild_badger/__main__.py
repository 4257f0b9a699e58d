"""The one place that knows both the command line and the window."""

import argparse
import os
import sys
from pathlib import Path
from typing import NoReturn

from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.words import capitalized
from mild_badger.terminal import INTERRUPTED, guarded, unknown_command
from mild_badger.version import __version__

__all__ = ["main"]


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError(say("command-line.try-mild-badger-help", message=capitalized(message)))


def main() -> None:
    """Run the program and leave with its exit code."""
    code = guarded(lambda: _run(sys.argv[1:]))
    if code == INTERRUPTED:  # Python may end by the signal, or in a second one, on its way out
        os._exit(code)
    sys.exit(code)


def _run(arguments: list[str]) -> int:
    # Loaded in here, so that Ctrl+C while it loads ends as quietly as later on.
    from mild_badger import cli  # noqa: PLC0415

    if arguments and arguments[0] in cli.COMMANDS:
        return cli.run(arguments)
    word = arguments[0] if arguments else ""
    if word and not word.startswith("-") and "." not in word and not Path(word).exists():
        raise InputError(unknown_command(word, cli.COMMANDS))
    parser = _Parser(
        prog="mild-badger",
        description=say("command-line.plans-gearboxes-and-drivetrains-for-working"),
        epilog=say(
            "command-line.without-a-window-see-mild-badger-command", listed=", ".join(cli.COMMANDS)
        ),
    )
    parser.add_argument(
        "file", nargs="?", type=Path, help=say("command-line.a-vehicle-file-badger-json")
    )
    parser.add_argument(
        "--demo", action="store_true", help=say("command-line.start-with-the-demo-vehicle")
    )
    parser.add_argument(
        "--shots", type=Path, metavar="DIR", help=say("command-line.draw-the-views-as-png-and-end")
    )
    parser.add_argument("--version", action="version", version=f"Mild Badger {__version__}")
    try:
        options = parser.parse_args(arguments)
        # The window is loaded only when one is wanted: the commands run where Qt cannot.
        from mild_badger.app.main import no_display, start  # noqa: PLC0415

        if no_display():
            raise InputError(
                say("command-line.there-is-no-display-to-show-a-window-on")
                + ", ".join(cli.COMMANDS)
                + "."
            )
        return start(file=options.file, demo=options.demo, shots=options.shots)
    except ImportError as error:
        raise InputError(say("command-line.the-window-cannot-be-loaded", error=error)) from error


if __name__ == "__main__":
    main()
