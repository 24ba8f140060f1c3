"""From a formula's text to a function of named arrays, by an allow-list on Python's own syntax.

Nothing of Python runs: the text is only parsed, and every kind of node that is not listed here is
refused at its place. Numbers are float32 throughout, so that no power can grow without bound.
"""

from __future__ import annotations

import ast
import difflib
import warnings
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from zygomorph.core.values.formula.errors import FormulaError
from zygomorph.core.values.formula.functions import CONSTANTS, FUNCTIONS

LONGEST = 1000
DEEPEST = 50

Array = np.ndarray
Named = Mapping[str, Array]
Node = Callable[[Named], Array]

BINARY: dict[type[ast.operator], Callable[[Array, Array], Array]] = {
    ast.Add: np.add,
    ast.Sub: np.subtract,
    ast.Mult: np.multiply,
    ast.Div: np.true_divide,
    ast.FloorDiv: np.floor_divide,
    ast.Mod: np.mod,
    ast.Pow: np.power,
}
COMPARED: dict[type[ast.cmpop], Callable[[Array, Array], Array]] = {
    ast.Lt: np.less,
    ast.LtE: np.less_equal,
    ast.Gt: np.greater,
    ast.GtE: np.greater_equal,
    ast.Eq: np.equal,
    ast.NotEq: np.not_equal,
}


@dataclass(frozen=True)
class Formula:
    """A formula that was read.

    names : the names of values it uses
    run : from (n,) or (1,) float32 by name to (n,) or (1,) float32; undefined results are NaN
        or infinite
    """

    text: str
    names: frozenset[str]
    run: Node


@lru_cache(maxsize=512)
def read_formula(text: str, known: frozenset[str]) -> Formula:
    """Read a formula that may use the known names. Raises FormulaError where it is wrong."""
    if not text.strip():
        raise FormulaError("The formula is empty.", "Write 0 where nothing shall happen.")
    if len(text) > LONGEST:
        raise FormulaError(
            f"The formula has {len(text)} characters; the limit is {LONGEST}.",
            "Split it over several steps.",
            LONGEST,
            len(text) - LONGEST,
        )
    begin = len(text) - len(text.lstrip())
    try:
        with warnings.catch_warnings():
            # Python warns of odd syntax, such as a number that is called; it is refused below.
            warnings.simplefilter("ignore", SyntaxWarning)
            tree = ast.parse(text.strip(), mode="eval")
    except SyntaxError as error:
        raise _of_syntax(text, error, begin) from error
    except (RecursionError, MemoryError) as error:
        raise _too_deep(0, len(text)) from error
    except ValueError as error:
        raise FormulaError("The formula holds a character that cannot be read.") from error
    reader = _Reader(text, known, begin)
    run = reader.read(tree.body, 0)
    return Formula(text, frozenset(reader.used), run)


def _of_syntax(text: str, error: SyntaxError, begin: int) -> FormulaError:
    column = begin + max((error.offset or 1) - 1, 0)
    if (error.lineno or 1) > 1 or "\n" in text.strip():
        return FormulaError("A formula is one line.", "Take the line break out.", 0, len(text))
    column = min(column, max(len(text.rstrip()) - 1, 0))
    found = text[column : column + 1]
    said = {
        "'(' was never closed": "A bracket is opened here and never closed.",
        "unmatched ')'": "A bracket is closed here that was never opened.",
    }.get(error.msg or "", f"The formula cannot be read from {found!r} on.")
    return FormulaError(said, "Look at the signs and brackets around it.", column)


def _too_deep(column: int, length: int) -> FormulaError:
    return FormulaError(
        f"The formula nests more than {DEEPEST} deep.", "Take brackets out.", column, length
    )


class _Reader:
    """Turns syntax nodes into functions, one after the other."""

    def __init__(self, text: str, known: frozenset[str], begin: int) -> None:
        self.text = text
        self.bytes = text.strip().encode()
        self.known = known
        self.begin = begin
        self.used: set[str] = set()

    def wrong(self, node: ast.AST, message: str, hint: str = "") -> FormulaError:
        # Python counts bytes of UTF-8, the artist sees characters.
        first = getattr(node, "col_offset", 0)
        last = getattr(node, "end_col_offset", None) or first + 1
        column = len(self.bytes[:first].decode(errors="ignore"))
        length = len(self.bytes[first:last].decode(errors="ignore"))
        return FormulaError(message, hint, self.begin + column, length)

    def read(self, node: ast.AST, depth: int) -> Node:
        if depth > DEEPEST:
            raise self.wrong(node, f"The formula nests more than {DEEPEST} deep.", "Split it.")
        if isinstance(node, ast.Constant):
            return self._number(node)
        if isinstance(node, ast.Name):
            return self._name(node)
        if isinstance(node, ast.BinOp):
            return self._binary(node, depth)
        if isinstance(node, ast.UnaryOp):
            return self._unary(node, depth)
        if isinstance(node, ast.Compare):
            return self._compare(node, depth)
        if isinstance(node, ast.BoolOp):
            return self._boolean(node, depth)
        if isinstance(node, ast.IfExp):
            test, yes, no = (self.read(n, depth + 1) for n in (node.test, node.body, node.orelse))
            return lambda named: np.where(test(named) != 0, yes(named), no(named))
        if isinstance(node, ast.Call):
            return self._call(node, depth)
        raise self.wrong(
            node,
            f"A formula cannot use {_in_words(node)}.",
            "It is made of numbers, names, + - * / ** and functions.",
        )

    def _number(self, node: ast.Constant) -> Node:
        if isinstance(node.value, bool) or not isinstance(node.value, (int, float)):
            raise self.wrong(node, "Only numbers can stand here.", "Text has no value.")
        try:
            value = float(node.value)
        except OverflowError:
            value = np.inf
        if abs(value) > np.finfo(np.float32).max:
            raise self.wrong(node, "This number is too large.", "The limit is about 3.4e38.")
        constant = np.full(1, value, np.float32)
        return lambda named: constant

    def _name(self, node: ast.Name) -> Node:
        name = node.id
        if name in self.known:
            self.used.add(name)
            return lambda named: named[name]
        if name in CONSTANTS:
            constant = np.full(1, CONSTANTS[name], np.float32)
            return lambda named: constant
        if name in FUNCTIONS:
            raise self.wrong(
                node, f"{name} is a function.", f"Write {name}(…): {FUNCTIONS[name].help}."
            )
        raise self.wrong(node, f"{name!r} is not known.", self._closest(name, self.known))

    def _closest(self, name: str, among: Iterable[str]) -> str:
        close = difflib.get_close_matches(name, [*among, *CONSTANTS, *FUNCTIONS], 1)
        return f"Did you mean {close[0]}?" if close else f"Known are {', '.join(sorted(among))}."

    def _binary(self, node: ast.BinOp, depth: int) -> Node:
        operation = BINARY.get(type(node.op))
        if operation is None:
            hint = "Powers are written **." if isinstance(node.op, ast.BitXor) else ""
            raise self.wrong(node, "This sign is not part of arithmetic.", hint)
        left, right = self.read(node.left, depth + 1), self.read(node.right, depth + 1)
        squared = isinstance(node.right, ast.Constant) and node.right.value == 2
        if isinstance(node.op, ast.Pow) and squared:
            # Many times as fast as a power.
            return lambda named: np.square(left(named))
        return lambda named: operation(left(named), right(named))

    def _unary(self, node: ast.UnaryOp, depth: int) -> Node:
        inner = self.read(node.operand, depth + 1)
        if isinstance(node.op, ast.USub):
            return lambda named: np.negative(inner(named))
        if isinstance(node.op, ast.UAdd):
            return inner
        if isinstance(node.op, ast.Not):
            return lambda named: (inner(named) == 0).astype(np.float32)
        raise self.wrong(node, "This sign is not part of arithmetic.")

    def _compare(self, node: ast.Compare, depth: int) -> Node:
        parts = [self.read(n, depth + 1) for n in (node.left, *node.comparators)]
        signs = []
        for sign in node.ops:
            if type(sign) not in COMPARED:
                raise self.wrong(node, "Only < <= > >= == != compare numbers.")
            signs.append(COMPARED[type(sign)])

        def run(named: Named) -> Array:
            values = [part(named) for part in parts]
            holds = np.ones(1, bool)
            for sign, left, right in zip(signs, values, values[1:], strict=False):
                holds = holds & sign(left, right)
            return holds.astype(np.float32)

        return run

    def _boolean(self, node: ast.BoolOp, depth: int) -> Node:
        parts = [self.read(n, depth + 1) for n in node.values]
        join = np.logical_and if isinstance(node.op, ast.And) else np.logical_or

        def run(named: Named) -> Array:
            holds = parts[0](named) != 0
            for part in parts[1:]:
                holds = join(holds, part(named) != 0)
            return holds.astype(np.float32)

        return run

    def _call(self, node: ast.Call, depth: int) -> Node:
        if not isinstance(node.func, ast.Name):
            raise self.wrong(node.func, "Only functions known by name can be called.")
        name = node.func.id
        function = FUNCTIONS.get(name)
        if function is None:
            if name in self.known or name in CONSTANTS:
                raise self.wrong(node, f"{name} is a value.", f"Multiply with *: {name} * (…).")
            raise self.wrong(
                node.func, f"There is no function {name!r}.", self._closest(name, FUNCTIONS)
            )
        if node.keywords:
            raise self.wrong(node.keywords[0], "Arguments have no names here.", function.help)
        given = len(node.args)
        if not function.least <= given <= function.most:
            wanted = (
                f"{function.least}"
                if function.least == function.most
                else f"{function.least} to {function.most}"
            )
            raise self.wrong(node, f"{name} takes {wanted} values, not {given}.", function.help)
        arguments = [self.read(n, depth + 1) for n in node.args]
        return lambda named: function.run(*(argument(named) for argument in arguments))


WORDS: dict[type[ast.AST], str] = {
    ast.Attribute: "names behind a dot",
    ast.Subscript: "square brackets",
    ast.Lambda: "functions of its own",
    ast.NamedExpr: "assignments",
    ast.Starred: "stars",
    ast.JoinedStr: "text",
    ast.Tuple: "a list",
    ast.List: "a list",
    ast.Set: "a set",
    ast.Dict: "a set",
}


def _in_words(node: ast.AST) -> str:
    return WORDS.get(type(node), "this kind of expression")
