"""The command line: the same rules without a server. Exit 0 on success, 2 on bad input with one line on standard error."""

import argparse
import gc
import re
import sys
from collections.abc import Sequence
from importlib import import_module

from greylatch.cli.commands import COMMANDS, SIGNED
from greylatch.errors import BadInput

__all__ = ["main"]

BAD_INPUT = 2


class _Parser(argparse.ArgumentParser):
    """argparse with a single clear line on a mistake."""

    def error(self, message: str):  # type: ignore[no-untyped-def]
        print(f"greylatch: {message} (see '{self.prog} --help')", file=sys.stderr)
        raise SystemExit(BAD_INPUT)


class _WithoutPandas:
    """Finds no pandas in a process of the command line.

    pyarrow imports pandas, where it happens to be installed, at the first column that becomes numpy's: a quarter of a
    second in which a small file is read, for something that no command uses.
    """

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        if name == "pandas":
            raise ModuleNotFoundError("pandas is not loaded by the command line", name=name)


def parser(asked: str | None = None) -> argparse.ArgumentParser:
    """All commands and their options; or those of the command that is `asked` alone, as to make all takes as long as to read a small file."""
    top = _Parser(prog="greylatch", description="Classified thematic maps from tables and rasters.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND", parser_class=_Parser)
    for name, command in COMMANDS.items():
        if asked in COMMANDS and name != asked:
            continue
        options = commands.add_parser(
            name, help=command.help, description=command.help[0].upper() + command.help[1:] + "."
        )
        options.set_defaults(run=command.run)
        command.options(options)
    return top


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status."""
    alone = arguments is None
    if alone:
        sys.meta_path.insert(0, _WithoutPandas())
        gc.disable()
    words = _joined(sys.argv[1:] if arguments is None else arguments)
    options = parser(words[0] if words else None).parse_args(words)
    try:
        module, function = options.run.split(":")
        command = getattr(import_module(f"greylatch.cli.{module}"), function)
        if alone:  # modules are no garbage, and to look for some among them took longer than many a file
            gc.freeze()
            gc.enable()
        command(options)
    except BadInput as error:
        return _failed(str(error))
    except BrokenPipeError:
        return 0
    except KeyboardInterrupt:
        return _failed("Stopped.")
    except MemoryError:
        return _failed("The input does not fit into memory.")
    except OSError as error:
        return _failed(f"{error.filename or ''} cannot be used: {error.strerror or error}.".strip())
    return 0


def _joined(arguments: Sequence[str]) -> list[str]:
    """Options whose value begins with a minus ('--bbox -27,51,-26,52') joined with it, or it would be taken for an option."""
    out: list[str] = []
    for argument in arguments:
        if out and out[-1] in SIGNED and re.match(r"-[\d.]", argument):
            out[-1] += f"={argument}"
        else:
            out.append(argument)
    return out


def _failed(text: str) -> int:
    print(f"greylatch: {' '.join(text.split())}", file=sys.stderr)
    return BAD_INPUT


if __name__ == "__main__":
    sys.exit(main())
