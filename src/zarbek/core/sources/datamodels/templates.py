"""SQL that is written with templates of Jinja, filled in a sandbox that has access to nothing.

The project says which calls name a table, and what other names stand for; there are none beside. What a hostile
template could grow without end (texts, products, loops) is bounded. Source: Jinja 3.1, "Template Designer
Documentation".
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

import jinja2
from jinja2 import nodes
from jinja2.exceptions import SecurityError
from jinja2.sandbox import ImmutableSandboxedEnvironment

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.datamodels.settings import CallMeaning
from zarbek.core.sources.source_text import FALLS

#: Of what a template gives, and of any text on the way.
MAX_TEXT = 2_000_000
#: Turns of loops and calls of macros, of one template.
MAX_STEPS = 200_000
_MAX_POWER = 64
_MARKS = re.compile(r"\{[{%#]")
_FILTERS = frozenset(
    "abs capitalize count default d dictsort e escape first float groupby int items join last length list lower map "
    "max min reject rejectattr replace reverse round safe select selectattr sort string sum title trim truncate unique "
    "upper".split()
)  # fmt: skip
#: What a text, a list or a mapping can be asked for.
_METHODS = frozenset(
    "upper lower strip lstrip rstrip split startswith endswith items keys values get index count title".split()
)
_ARGUMENT = re.compile(r"\{(\w+)\}")


class MacroText(NamedTuple):
    """A macro as its file has it. comment: what stands right above it; line: of its first word."""

    name: str
    parameters: list[tuple[str, str]]
    body: str
    comment: str
    comment_line: int
    line: int


class TableCall(NamedTuple):
    """A call that names a table, with what it stands for; line: in the template."""

    line: int
    call: str
    argument: str
    table: str


class Filled(NamedTuple):
    """What a template gives; the calls in it that name a table; of those of macros the line and the name."""

    text: str
    tables: list[TableCall]
    macros: list[tuple[int, str]]


def is_template(text: str) -> bool:
    """Whether a text has marks of a template."""
    return _MARKS.search(text) is not None


class Templates:
    """Fills the templates of one project."""

    def __init__(self, calls: Mapping[str, CallMeaning], values: Mapping[str, str]) -> None:
        self._calls = calls
        self._macros: set[str] = set()
        self._environment = _Sandbox(undefined=jinja2.StrictUndefined, autoescape=False)
        self._environment.globals = {name: _stand_in(name, meaning) for name, meaning in calls.items()} | dict(values)

    def add_macros(self, text: str) -> list[MacroText]:
        """Take in the macros of a file; they see one another, whatever their order. Raises UnreadableText."""
        tree = self._parse(text)
        template = self._compile(text)
        self._environment.steps = 0
        try:
            module = template.module
        except (jinja2.TemplateError, *FALLS) as error:
            raise UnreadableText(_reason(error), getattr(error, "lineno", None) or 1) from error
        found = [_macro(node, text) for node in tree.find_all(nodes.Macro)]
        for macro in found:
            self._environment.globals[macro.name] = getattr(module, macro.name)
            self._macros.add(macro.name)
        return found

    def fill(self, text: str) -> Filled:
        """A template, filled. Raises UnreadableText."""
        tree = self._parse(text)
        template = self._compile(text)
        self._environment.steps = 0
        try:
            filled = template.render()
        except (jinja2.TemplateError, *FALLS) as error:
            raise UnreadableText(_reason(error), _line_of(error)) from error
        macros = [
            (call.lineno, call.node.name) for call in tree.find_all(nodes.Call)
            if isinstance(call.node, nodes.Name) and call.node.name in self._macros
        ]  # fmt: skip
        return Filled(filled, list(self._table_calls(tree)), macros)

    def _parse(self, text: str) -> nodes.Template:
        try:
            return self._environment.parse(text)
        except (jinja2.TemplateError, *FALLS) as error:
            raise UnreadableText(_reason(error), getattr(error, "lineno", None) or 1) from error

    def _compile(self, text: str) -> jinja2.Template:
        try:
            return self._environment.from_string(text)
        except (jinja2.TemplateError, *FALLS) as error:
            raise UnreadableText(_reason(error), getattr(error, "lineno", None) or 1) from error

    def _table_calls(self, tree: nodes.Template) -> Iterable[TableCall]:
        for call in tree.find_all(nodes.Call):
            name = call.node.name if isinstance(call.node, nodes.Name) else ""
            meaning = self._calls.get(name)
            if meaning is None or not meaning.table:
                continue
            positional = [str(a.value) for a in call.args if isinstance(a, nodes.Const)]
            named = {k.key: str(k.value.value) for k in call.kwargs if isinstance(k.value, nodes.Const)}
            if len(positional) == len(call.args) and len(named) == len(call.kwargs):
                table = _filled(meaning.table, positional, named)
                yield TableCall(call.lineno, name, next(iter([*positional[-1:], *named.values()]), ""), table)


class _Sandbox(ImmutableSandboxedEnvironment):
    intercepted_binops = frozenset(("+", "*", "**", "%"))

    def __init__(self, **options: Any) -> None:
        super().__init__(**options)
        self.steps = 0
        self.filters = {name: call for name, call in self.filters.items() if name in _FILTERS}
        self.filters |= {"replace": _replaced, "join": _put_together}
        self.tests = {name: call for name, call in self.tests.items() if name != "filter"}
        self.concat = _join  # type: ignore[method-assign,assignment]

    def _parse(self, source: str, name: str | None, filename: str | None) -> nodes.Template:
        tree = super()._parse(source, name, filename)
        for node in tree.find_all((nodes.Include, nodes.Import, nodes.FromImport, nodes.Extends)):
            raise jinja2.TemplateSyntaxError("a template reads no other file", node.lineno)
        _add_joined(tree)
        for node in tree.find_all((nodes.For, nodes.Macro, nodes.CallBlock)):
            counted = nodes.Call(nodes.EnvironmentAttribute("count_step"), [], [], None, None)
            node.body.insert(0, nodes.ExprStmt(counted, lineno=node.lineno))  # type: ignore[attr-defined]
        tree.set_environment(self)
        return tree

    def count_step(self) -> None:
        """Called at each turn of a loop and in each macro. Raises SecurityError for a template that goes on and on."""
        self.steps += 1
        if self.steps > MAX_STEPS:
            raise SecurityError(f"it goes on after {MAX_STEPS:,} steps")

    def call_binop(self, context: Any, operator: str, left: Any, right: Any) -> Any:
        sizes = [len(side) if isinstance(side, str | list | tuple) else 0 for side in (left, right)]
        if operator == "+":
            _check(sum(sizes))
        elif operator == "*":
            count = right if sizes[0] else left
            _check(max(sizes) * count if isinstance(count, int) and max(sizes) else 0)
            _check_numbers(left, right)
        elif operator == "**":
            _check_numbers(left, right, most=64)
            _check(MAX_TEXT + 1 if isinstance(right, int) and right > _MAX_POWER else 0)
        elif isinstance(left, str):
            raise SecurityError("texts are not filled by %")
        return super().call_binop(context, operator, left, right)

    def wrap_str_format(self, value: Any) -> None:
        """A text fills no other: a width in it has no bound."""

    def is_safe_attribute(self, obj: Any, attr: str, value: Any) -> bool:
        if isinstance(obj, str | list | tuple | dict):
            return attr in _METHODS
        return type(obj).__name__ in ("LoopContext", "Macro") and super().is_safe_attribute(obj, attr, value)


def _join(parts: Iterable[str]) -> str:
    held: list[str] = []
    size = 0
    for part in parts:
        size += len(part)
        _check(size)
        held.append(part)
    return "".join(held)


def _replaced(text: str, old: str, new: str) -> str:
    text = str(text)
    _check(len(text) + text.count(old) * len(new))
    return text.replace(old, new)


def _put_together(items: Iterable[Any], between: str = "") -> str:
    texts = list(map(str, items))
    _check(sum(map(len, texts)) + len(texts) * len(between))
    return between.join(texts)


def _check(size: int) -> None:
    if size > MAX_TEXT:
        raise SecurityError(f"it grows beyond {MAX_TEXT:,} characters")


def _check_numbers(*numbers: Any, most: int = 4096) -> None:
    if any(isinstance(n, int) and n.bit_length() > most for n in numbers):
        raise SecurityError("its numbers grow too large")


def _add_joined(tree: nodes.Node) -> None:
    """``a ~ b`` as a sum of texts: what joins them by itself has no bound."""
    for parent in [tree, *tree.find_all(nodes.Node)]:
        for field in parent.fields:
            value = getattr(parent, field, None)
            if isinstance(value, nodes.Concat):
                setattr(parent, field, _sum(value))
            elif isinstance(value, list):
                setattr(parent, field, [_sum(v) if isinstance(v, nodes.Concat) else v for v in value])


def _sum(joined: nodes.Concat) -> nodes.Expr:
    texts = [nodes.Filter(n, "string", [], [], None, None, lineno=joined.lineno) for n in joined.nodes]
    found: nodes.Expr = texts[0]
    for text in texts[1:]:
        found = nodes.Add(found, text, lineno=joined.lineno)
    return found


def _stand_in(name: str, meaning: CallMeaning) -> Callable[..., str]:
    def call(*arguments: Any, **named: Any) -> str:
        texts = [str(argument) for argument in arguments]
        try:
            return _filled(meaning.table or meaning.text, texts, {key: str(value) for key, value in named.items()})
        except LookupError as error:
            raise SecurityError(f"{name}() lacks the argument {error.args[0]}") from error

    return call


def _filled(pattern: str, arguments: list[str], named: Mapping[str, str]) -> str:
    """Raises LookupError: an argument that the pattern has is not given."""

    def argument(found: re.Match[str]) -> str:
        key = found[1]
        if key.isdigit() and 0 < int(key) <= len(arguments):
            return arguments[int(key) - 1]
        if key in named:
            return named[key]
        raise LookupError(key)

    return _ARGUMENT.sub(argument, pattern)


def _macro(node: nodes.Macro, text: str) -> MacroText:
    lines = text.split("\n")
    given = [_written(value) for value in node.defaults]
    names = [argument.name for argument in node.args]
    defaults = [*[""] * (len(names) - len(given)), *given]
    end = next(
        (n for n in range(node.lineno - 1, len(lines)) if re.search(r"\{%-?\s*endmacro\b", lines[n])), len(lines)
    )
    above = "\n".join(lines[: node.lineno - 1]).rstrip()
    begin = above.rfind("{#")
    comment = above[begin:] if begin >= 0 and above.endswith("#}") and above.find("#}", begin) == len(above) - 2 else ""
    line = above.count("\n", 0, begin) + 1 if comment else 0
    body = "\n".join(lines[node.lineno - 1 : end + 1])
    return MacroText(node.name, list(zip(names, defaults, strict=True)), body, comment, line, node.lineno)


def _written(value: nodes.Node) -> str:
    return repr(value.value) if isinstance(value, nodes.Const) else "…"


def _reason(error: BaseException) -> str:
    text = str(error).split("\n")[0]
    unknown = re.match(r"'(\w+)' is undefined", text)
    if unknown:
        told = "zarbek.toml does not say what that stands for (data.calls, data.values)"
        return f"its template names {unknown[1]}, and {told}"
    return f"its template cannot be filled: {text}"


def _line_of(error: BaseException) -> int:
    """The line of the template at which filling it ended."""
    line = getattr(error, "lineno", None)
    trace = error.__traceback__
    while trace is not None:
        if trace.tb_frame.f_code.co_filename == "<template>":
            line = trace.tb_lineno
        trace = trace.tb_next
    return line or 1
