"""Entry point. Reads arguments and calls the core; the window is only imported when it is wanted."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from pathlib import Path

from elbrix import __version__
from elbrix.quantities.errors import ShopError
from elbrix.results.length_text import plain


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; without one, open the window."""
    arguments = list(sys.argv[1:] if argv is None else argv)
    try:
        if arguments and not _only_a_book(arguments):
            from elbrix.cli.arguments import COMMANDS, command_parser, window_parser

            if arguments[0] in COMMANDS:
                from elbrix.cli import commands

                return commands.run(command_parser().parse_args(arguments))
            options = window_parser().parse_args(arguments)
            if options.version:
                print(f"Elbrix {__version__}")
                return 0
            if options.book:
                _refuse_no_command(options.book)
            arguments, demo = [options.book] if options.book else [], options.demo
        else:
            demo = arguments == ["--demo"]
        import gc

        gc.disable()  # nothing loaded or made before the first paint is rubbish; it is put on again after it
        try:
            from elbrix.app.start import run_window

            return run_window(Path(arguments[0]) if arguments and not demo else None, demo=demo)
        finally:
            gc.enable()
    except ShopError as error:
        print(plain(f"elbrix: {error}"), file=sys.stderr)
        return 1
    except (FileNotFoundError, PermissionError, NotADirectoryError, IsADirectoryError, FileExistsError) as error:
        print(f"elbrix: {error.filename or 'a file'}: {error.strerror}. Check the name and the folder", file=sys.stderr)
        return 1
    except BrokenPipeError:  # the reader of our output went away
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1
    except OSError as error:
        print(
            f"elbrix: {error.filename or 'a file'}: {error.strerror or error}. Make room or choose another place", file=sys.stderr
        )
        return 1


def _refuse_no_command(word: str) -> None:
    """A book is made when it is not there, but not under the name of a command that was written wrong.

    Raises:
        ShopError: It is no command, no file that is there, and no name of a book.
    """
    if word.endswith(".elbrix") or Path(word).exists():
        return
    from difflib import get_close_matches

    from elbrix.cli.arguments import COMMANDS

    near = get_close_matches(word, COMMANDS, n=1)
    raise ShopError(
        "Command line",
        f"“{word}” is no command and no book",
        "A book that is begun has a name that ends with .elbrix",
        f"Did you mean {near[0]}? All commands: elbrix --help" if near else "All commands: elbrix --help",
    )


def _only_a_book(arguments: list[str]) -> bool:
    """The usual ways to start: the parser of arguments takes longer to load than the window needs for its first tenth."""
    return arguments == ["--demo"] or (len(arguments) == 1 and arguments[0].endswith(".elbrix") and arguments[0][0] != "-")


if __name__ == "__main__":
    sys.exit(main())
