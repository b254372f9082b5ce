"""Where the tests of a file stand, by the frameworks of its language.

Sources: the documentation of the frameworks on what a test is; for Go "go test" (``go help testfunc``), for Rust
The Rust Reference, "Testing attributes".
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from tree_sitter import Node

from zarbek.core.sources.examples.tree_tests import TestPlace
from zarbek.core.sources.languages.syntax_tree import MAX_DEPTH, SourceTree

_EXAMPLE = re.compile(r"""["'(]\s*@?example\s*["')]|\[example\]""", re.IGNORECASE)
_TYPES = frozenset({"class_declaration", "interface_declaration", "record_declaration", "struct_declaration",
                    "object_declaration"})  # fmt: skip
_METHODS = frozenset({"method_declaration", "function_declaration"})
_FIELDS = frozenset({"field_declaration", "property_declaration"})
_TESTS = {
    "java": frozenset({"Test", "ParameterizedTest", "RepeatedTest", "TestFactory", "TestTemplate"}),
    "kotlin": frozenset({"Test", "ParameterizedTest", "RepeatedTest"}),
    "csharp": frozenset({"Fact", "Theory", "Test", "TestCase", "TestMethod", "DataTestMethod"}),
}
_BEFORE = frozenset({"Before", "BeforeEach", "BeforeAll", "BeforeClass", "BeforeTest", "BeforeMethod", "SetUp",
                     "OneTimeSetUp", "TestInitialize", "ClassInitialize"})  # fmt: skip
_MARK = re.compile(r"@(\w+)|[\[,]\s*(\w+)")
_FRAMEWORKS = {"java": "JUnit", "kotlin": "kotlin.test"}
_C_MACROS = re.compile(
    r"TEST|TEST_[FPG]|TYPED_TEST|TEST_CASE|SCENARIO|BOOST_(?:AUTO|FIXTURE)_TEST_CASE|TEST_CASE_METHOD"
)
_TITLED = re.compile(r"(?:\w{1,3}\.)?(?:test|it|specify)(?:\.(?:only|skip|concurrent|sequential|fails|example))*$")
_GROUPS = re.compile(r"(?:describe|suite|context)(?:\.(?:only|skip|concurrent|sequential))*$")
_STARTS = re.compile(r"(?:beforeEach|beforeAll|before|setup)$")
_FUNCTIONS = frozenset({"arrow_function", "function_expression", "function"})

Finder = Callable[[SourceTree], Iterator[TestPlace]]


def find_tests(tree: SourceTree, language: str) -> list[TestPlace]:
    """The tests of a file, in order."""
    return list(_FINDERS[language](tree))


# Methods with annotations ----------------------------------------------------------------


def _annotated(language: str) -> Finder:
    return lambda tree: _of_types(tree.root, tree, language, [], 0)


def _of_types(node: Node, tree: SourceTree, language: str, names: list[str], depth: int) -> Iterator[TestPlace]:
    if depth > MAX_DEPTH:
        return
    for child in node.named_children:
        if child.type in _TYPES:
            name = tree.text(child.child_by_field_name("name") or child.named_children[0])
            body = child.child_by_field_name("body") or child.named_children[-1]
            inside = [*names, name]
            yield from _of_type(child, body, tree, language, inside)
            yield from _of_types(body, tree, language, inside, depth + 1)
        elif child.type in ("namespace_declaration", "declaration_list", "file_scoped_namespace_declaration"):
            yield from _of_types(child, tree, language, names, depth + 1)


def _of_type(node: Node, body: Node, tree: SourceTree, language: str, names: list[str]) -> Iterator[TestPlace]:
    methods = [m for m in body.named_children if m.type in _METHODS]
    marks = {m.id: _marks(m, tree) for m in methods}
    before = [m for m in methods if marks[m.id] & _BEFORE]
    fields = [f for f in body.named_children if f.type in _FIELDS]
    is_marked = bool(_EXAMPLE.search(_head(node, body, tree)))
    for method in methods:
        code = method.child_by_field_name("body") or method.named_children[-1]
        if not marks[method.id] & _TESTS[language]:
            continue
        framework = _FRAMEWORKS.get(language) or _of_csharp(marks[method.id])
        name = tree.text(method.child_by_field_name("name")).strip("`")
        marked = is_marked or bool(_EXAMPLE.search(_head(method, code, tree)))
        yield TestPlace([*names, name], framework, method, code, marked, setting=before, fields=fields)


def _of_csharp(marks: set[str]) -> str:
    if marks & {"Fact", "Theory"}:
        return "xUnit"
    return "MSTest" if marks & {"TestMethod", "DataTestMethod"} else "NUnit"


def _head(node: Node, body: Node, tree: SourceTree) -> str:
    """The modifiers before a declaration."""
    name = node.child_by_field_name("name")
    end = name.start_byte if name is not None else body.start_byte
    return tree.data[node.start_byte : end].decode(errors="replace")


def _marks(node: Node, tree: SourceTree) -> set[str]:
    body = node.child_by_field_name("body") or node
    return {found[1] or found[2] for found in _MARK.finditer(_head(node, body, tree))}


# Functions -------------------------------------------------------------------------------


def _of_go(tree: SourceTree) -> Iterator[TestPlace]:
    for node in tree.root.named_children:
        name = tree.text(node.child_by_field_name("name")) if node.type == "function_declaration" else ""
        body = node.child_by_field_name("body")
        kind = next((k for k in ("Test", "Example") if _is_go(name, k)), "")
        if kind and body is not None:
            yield TestPlace([name], "go test", node, body, kind == "Example")


def _is_go(name: str, kind: str) -> bool:
    rest = name.removeprefix(kind)
    return name.startswith(kind) and name != "TestMain" and not rest[:1].islower()


def _of_rust(tree: SourceTree) -> Iterator[TestPlace]:
    yield from _in_module(tree.root, tree, [], 0)


def _in_module(node: Node, tree: SourceTree, names: list[str], depth: int) -> Iterator[TestPlace]:
    attributes: list[str] = []
    for child in node.named_children:
        if child.type == "attribute_item":
            attributes.append(tree.folded(child))
            continue
        body = child.child_by_field_name("body")
        name = tree.text(child.child_by_field_name("name"))
        if child.type == "mod_item" and body is not None and depth < MAX_DEPTH:
            yield from _in_module(body, tree, [*names, name], depth + 1)
        elif child.type == "function_item" and body is not None and any(
            re.match(r"#\[(?:\w+::)*(?:test|rstest|test_case)\b", a) for a in attributes
        ):  # fmt: skip
            yield TestPlace([*names, name], "cargo test", child, body)
        if "comment" not in child.type:
            attributes = []


def _of_c(tree: SourceTree) -> Iterator[TestPlace]:
    yield from _in_scope(tree.root, tree, 0)


def _in_scope(node: Node, tree: SourceTree, depth: int) -> Iterator[TestPlace]:
    children = node.named_children
    for index, child in enumerate(children):
        if child.type in ("namespace_definition", "linkage_specification", "declaration_list") and depth < MAX_DEPTH:
            yield from _in_scope(child, tree, depth + 1)
        elif child.type == "function_definition":
            found = _of_definition(child, tree)
            if found is not None:
                yield found
        elif child.type == "expression_statement" and index + 1 < len(children):
            call = child.named_children[0] if child.named_children else child
            body = children[index + 1]
            if call.type == "call_expression" and body.type == "compound_statement":
                yield from _of_macro(child, call, body, tree)


def _of_definition(node: Node, tree: SourceTree) -> TestPlace | None:
    declarator, body = node.child_by_field_name("declarator"), node.child_by_field_name("body")
    if declarator is None or body is None:
        return None
    name = tree.text(declarator.child_by_field_name("declarator"))
    given = declarator.child_by_field_name("parameters")
    if _C_MACROS.fullmatch(name) and given is not None:
        names = [tree.text(p).strip('"') for p in given.named_children]
        before, fields = _fixture(names[0], tree) if name.endswith(("_F", "_FIXTURE_TEST_CASE")) and names else ([], [])
        marked = any(_EXAMPLE.search(n) for n in names)
        return TestPlace(names, "GoogleTest", node, body, marked, setting=before, fields=fields) if names else None
    return TestPlace([name], "C", node, body) if name.startswith("test_") else None


def _fixture(name: str, tree: SourceTree) -> tuple[list[Node], list[Node]]:
    """What a class sets up for tests, and its fields."""
    for node in tree.root.named_children:
        body = node.child_by_field_name("body")
        if node.type in ("class_specifier", "struct_specifier") and body is not None and (
            tree.text(node.child_by_field_name("name")) == name
        ):  # fmt: skip
            methods = [m for m in body.named_children if m.type == "function_definition"]
            before = [m for m in methods if re.search(r"\bSetUp\s*\(", tree.text(m.child_by_field_name("declarator")))]
            fields = [f for f in body.named_children if f.type == "field_declaration"]
            return before, [f for f in fields if "(" not in tree.text(f.child_by_field_name("declarator"))]
    return [], []


def _of_macro(anchor: Node, call: Node, body: Node, tree: SourceTree) -> Iterator[TestPlace]:
    """``TEST_CASE("title", "[tags]")`` and the block behind it."""
    given = call.child_by_field_name("arguments")
    if (
        given is None
        or not _C_MACROS.fullmatch(tree.text(call.child_by_field_name("function")))
        or not given.named_children
    ):
        return
    texts = [tree.text(g) for g in given.named_children]
    title = texts[0].strip('"')
    yield TestPlace([title], "Catch2", anchor, body, any(_EXAMPLE.search(t) for t in texts[1:]), title)


# Calls with titles ------------------------------------------------------------------------


def _of_ecmascript(tree: SourceTree) -> Iterator[TestPlace]:
    yield from _in_group(tree.root, tree, [], [], 0)


def _in_group(
    node: Node, tree: SourceTree, names: list[str], before: list[Node], depth: int
) -> Iterator[TestPlace]:  # fmt: skip
    calls = [found for child in node.named_children if (found := _call_of(child)) is not None]
    fields = (
        [c for c in node.named_children if c.type in ("lexical_declaration", "variable_declaration")] if names else []
    )
    starts = [*before, *fields, *(f for c, f in _given(calls, tree, _STARTS) if f is not None)]
    inner: list[tuple[Node, list[str]]] = []
    for call, function in _given(calls, tree, _TITLED):
        if function is not None and (place := _titled(call, function, tree, names)) is not None:
            place.setting = starts
            yield place
            inner.append((place.body, place.names))  # A test may hold tests.
    for call, function in _given(calls, tree, _GROUPS):
        body = function.child_by_field_name("body") if function is not None else None
        inner += [(body, [*names, _title_of(call, tree)])] if body is not None else []
    for body, inside in inner if depth < MAX_DEPTH else ():
        yield from _in_group(body, tree, inside, starts, depth + 1)


def _titled(call: Node, function: Node, tree: SourceTree, names: list[str]) -> TestPlace | None:
    title, anchor, body = _title_of(call, tree), call.parent, function.child_by_field_name("body")
    if not title or anchor is None or body is None:
        return None
    given = call.child_by_field_name("arguments")
    options = given.named_children[1:] if given is not None else []
    marked = any(_EXAMPLE.search(tree.text(o)) for o in options if o.type not in _FUNCTIONS)
    marked = marked or ".example" in tree.folded(call.child_by_field_name("function"))
    return TestPlace([*names, title], "JavaScript", anchor, body, marked, " ".join([*names, title]))


def _call_of(node: Node) -> Node | None:
    inner = node.named_children[0] if node.type == "expression_statement" and node.named_children else None
    return inner if inner is not None and inner.type == "call_expression" else None


def _given(calls: list[Node], tree: SourceTree, wanted: re.Pattern[str]) -> Iterator[tuple[Node, Node | None]]:
    """Calls of some functions, with the function that each is given."""
    for call in calls:
        if wanted.match(tree.folded(call.child_by_field_name("function"))):
            given = call.child_by_field_name("arguments")
            inner = given.named_children if given is not None else []
            yield call, next((n for n in inner if n.type in _FUNCTIONS), None)


def _title_of(call: Node, tree: SourceTree) -> str:
    given = call.child_by_field_name("arguments")
    first = given.named_children[0] if given is not None and given.named_children else None
    return tree.text(first)[1:-1] if first is not None and first.type in ("string", "template_string") else ""


_FINDERS: dict[str, Finder] = {
    **{language: _annotated(language) for language in ("java", "kotlin", "csharp")},
    "go": _of_go, "rust": _of_rust, "c": _of_c, "cpp": _of_c,
    "javascript": _of_ecmascript, "typescript": _of_ecmascript,
}  # fmt: skip
