"""Random sources of three projects that derive from, offer on and mention one another."""

from __future__ import annotations

from hypothesis import strategies as st

VERSIONS = ("1.0.0", "1.0.1", "1.1.0", "2.0.0", "2.1.0rc1", "2.1.0", "3.0.0")
RANGES = ("", "", "", ">=1", ">=1,<2", "==1.0.0", ">=9")
#: What one project says of another; ``{o}`` is the other. Names lead there directly, through other
#: names of modules and symbols, through bases and imports, or nowhere.
MENTIONS = (
    ":func:`{o}.one.alpha`", ":func:`{o}.alpha`", "``{o}.one.beta``", ":meth:`{o}.Gamma.go`", ":meth:`{o}.one.Gamma.stop`",
    ":meth:`Own.go`", ":meth:`Own.stop`", ":func:`beta`", ":func:`{o}.old.alpha`", ":func:`{o}.two.alpha`",
    "`x <api://{o}/{o}.one.alpha>`_", "`x <api://{o}@1.x/{o}.one.beta>`_", "`x <api://{o}@1.0.0/{o}.alpha>`_",
    "`x <api://{o}@9/{o}.alpha>`_", ":class:`{o}.one.Gamma`", ":func:`{o}.extra.alpha`", ":func:`nobody.alpha`",
)  # fmt: skip
flag = st.booleans()


def chosen(*options):
    return st.sampled_from(options)


@st.composite
def sources(draw, number):
    """Files of project 0, a library; 1, which derives from it and offers its names on; or 2, which uses both."""
    own, lower = f"{{{number}}}", [f"{{{n}}}" for n in range(number)]
    other = draw(st.sampled_from(lower)) if lower else "{2}"
    said = [m.replace("{o}", o) for o in {other, *lower} for m in draw(st.lists(st.sampled_from(MENTIONS), max_size=6))]
    text = "See " + " and ".join(said or ["nothing"]) + "."
    one = []
    if lower:
        one.append(
            draw(
                chosen(f"from {other}.one import beta", f"from {other}.one import *", f"import {other}.one as old", "")
            )
        )
    for name in ("alpha", "beta"):
        if draw(flag):
            mark = draw(chosen("", "", "\n\n    .. deprecated:: 2.0\n       Use :func:`alpha`.\n    "))
            one.append(
                f'def {name}({draw(chosen("", "a", "a, b=1"))}):\n    """{draw(chosen("Finds.", "Loses."))}{mark}"""\n'
            )
    base = draw(chosen("", f"({other}.one.Gamma)", f"({other}.Gamma)")) if lower else draw(chosen("", "(Outside)"))
    members = [m for m in ("go", "stop", "__getattr__") if draw(chosen(True, False, m == "go"))]
    body = "".join(f"    def {m}(self): ...\n" for m in members) or "    pass\n"
    if draw(chosen(True, True, False)):
        one.append(f"class Gamma{base}:\n{body}")
    own_base = draw(chosen(f"({other}.one.Gamma)", f"({other}.Gamma)", ""))
    one.append(f'class Own{own_base}:\n    """{text}"""\n')
    exported = [n for n in ("alpha", "beta", "Gamma") if draw(flag)]
    init = f"from {own}.one import {', '.join(exported)}\n" if exported else ""
    init += draw(chosen("", f"from {own} import one as old\n", f"from {other} import one as extra\n" if lower else ""))
    files = {f"{own}/__init__.py": init, f"{own}/one.py": "\n".join(one)}
    if draw(flag):
        files[f"{own}/two.py"] = "def alpha(a): ...\n"
    needs = ", ".join(f'"{o}{draw(st.sampled_from(RANGES))}"' for o in lower)
    files["pyproject.toml"] = f'[project]\nname = "{own}"\ndependencies = [{needs}]\n'
    part = draw(chosen("part", "piece"))
    files["guides/index.md"] = f"# Guide\n\n## {part}\n\n[it](api://{other}/index#part), `{other}.one.alpha`.\n"
    return files


@st.composite
def sequences(draw):
    """Publishes as (project, version, files): each project once, users first or last, then libraries again."""
    order = [*draw(st.permutations(range(3))), *draw(st.lists(chosen(0, 0, 0, 1, 1, 2), min_size=2, max_size=5))]
    left = {n: list(draw(st.permutations(VERSIONS))) if draw(flag) else list(VERSIONS) for n in range(3)}
    return [(n, left[n].pop(0), draw(sources(n))) for n in order]


def fill(text: str, slugs: list[str]) -> str:
    for number, slug in enumerate(slugs):
        text = text.replace(f"{{{number}}}", slug)
    return text
