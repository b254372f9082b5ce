"""What the one resolver must know about a language."""

from __future__ import annotations

import builtins
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal


@dataclass(frozen=True, slots=True, kw_only=True)
class LanguageProfile:
    """family: languages of one family see each other's names. builtins: names that every scope
    sees last.

    scope: whether imports hold for a whole module or for one file. sees_enclosing: whether the names
    of enclosing modules are in scope too. imports_first: whether an import hides a name of the
    file's own module. implicit: modules whose names are always in scope. suffix: whether a
    name may leave out its beginning. instead: first parts that stand for a place in the module
    tree (``self``, ``super``, ``crate``, ``Self``).
    """

    language: str
    family: str
    #: What stands between the parts of a name when it is shown.
    separator: str = "."
    builtins: frozenset[str] = frozenset()
    #: Members by which a class answers for names that it does not declare.
    dynamic: frozenset[str] = frozenset()
    scope: Literal["module", "file"] = "module"
    sees_enclosing: bool = False
    imports_first: bool = False
    implicit: tuple[str, ...] = ()
    #: All names of the modules that are always in scope, where they are known.
    implicit_names: frozenset[str] = frozenset()
    suffix: bool = False
    instead: Mapping[str, str] = field(default_factory=dict)
    #: Whether a name without a member mark can only mean a type or a module.
    types_only: bool = False
    #: Kind of a type to the base that it has without saying so.
    implied_bases: Mapping[str, str] = field(default_factory=dict)
    #: Name to the type of the language that it means wherever it stands.
    primitives: Mapping[str, str] = field(default_factory=dict)
    #: Bases outside of the portal that bring nothing but these members.
    known_bases: frozenset[str] = frozenset()
    known_members: frozenset[str] = frozenset()
    #: Where macros stand that can be named without a path.
    macro_roots: tuple[str, ...] = ()
    #: Whether a type's members can be named in its texts without its name.
    members_first: bool = True
    #: Whether a namespace owns what is below it by any number of parts; else only the types in it.
    nests: bool = True
    #: Whether a name is looked for around every public name of the element that a text documents.
    around: bool = False
    #: Whether a name that only one public symbol of the project has means it, wherever it is.
    unique: bool = False
    #: Whether members that readers do not see are found, and then hide what they stand before.
    hides: bool = False


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


PYTHON = LanguageProfile(
    language="python", family="python", builtins=frozenset(dir(builtins)),
    dynamic=frozenset({"__getattr__", "__getattribute__"}), suffix=True, around=True,
)  # fmt: skip
#: What every class of the JVM has, and every enumeration (Java SE API, java.lang.Object and Enum).
_JVM_MEMBERS = _words(
    "clone equals finalize getClass hashCode notify notifyAll toString wait compareTo describeConstable "
    "getDeclaringClass name ordinal valueOf values"
)
#: Java SE API, package java.lang.
_JAVA_LANG = _words(
    "AbstractMethodError Appendable ArithmeticException ArrayIndexOutOfBoundsException ArrayStoreException "
    "AssertionError AutoCloseable Boolean BootstrapMethodError Byte CharSequence Character Class ClassCastException "
    "ClassCircularityError ClassFormatError ClassLoader ClassNotFoundException ClassValue CloneNotSupportedException "
    "Cloneable Comparable Compiler Deprecated Double Enum EnumConstantNotPresentException Error Exception "
    "ExceptionInInitializerError Float FunctionalInterface IO IllegalAccessError IllegalAccessException "
    "IllegalArgumentException IllegalCallerException IllegalMonitorStateException IllegalStateException "
    "IllegalThreadStateException IncompatibleClassChangeError IndexOutOfBoundsException InheritableThreadLocal "
    "InstantiationError InstantiationException Integer InternalError InterruptedException Iterable "
    "LayerInstantiationException LinkageError Long MatchException Math Module ModuleLayer "
    "NegativeArraySizeException NoClassDefFoundError NoSuchFieldError NoSuchFieldException NoSuchMethodError "
    "NoSuchMethodException NullPointerException Number NumberFormatException Object OutOfMemoryError Override "
    "Package Process ProcessBuilder ProcessHandle Readable Record ReflectiveOperationException Runnable Runtime "
    "RuntimeException RuntimePermission SafeVarargs ScopedValue SecurityException SecurityManager Short "
    "StackOverflowError StackTraceElement StackWalker StrictMath String StringBuffer StringBuilder "
    "StringIndexOutOfBoundsException StringTemplate SuppressWarnings System Thread ThreadDeath ThreadGroup "
    "ThreadLocal Throwable TypeNotPresentException UnknownError UnsatisfiedLinkError UnsupportedClassVersionError "
    "UnsupportedOperationException VerifyError VirtualMachineError Void WrongThreadException"
)
JAVA = LanguageProfile(
    language="java", family="jvm", scope="file", imports_first=True, implicit=("java.lang",), types_only=True,
    implicit_names=_JAVA_LANG,
    hides=True, nests=False,
    implied_bases={"class": "java.lang.Object", "exception": "java.lang.Object", "enum": "java.lang.Enum",
                   "record": "java.lang.Record"},
    known_members=_JVM_MEMBERS,
    builtins=_words("boolean byte char double float int long short void"),
)  # fmt: skip
KOTLIN = LanguageProfile(
    language="kotlin", family="jvm", scope="file", imports_first=True, nests=False,
    implicit=("kotlin", "kotlin.collections", "kotlin.annotation", "kotlin.comparisons", "kotlin.io",
              "kotlin.ranges", "kotlin.sequences", "kotlin.text", "java.lang", "kotlin.jvm"),
    known_members=_JVM_MEMBERS | {"copy", "component1", "entries"},
    builtins=_words("Any Unit Nothing Boolean Byte Char Double Float Int Long Short String Array List Map Set"),
)  # fmt: skip
CSHARP = LanguageProfile(
    language="csharp", family="dotnet", scope="file", sees_enclosing=True,
    builtins=_words(
        "bool byte char decimal double float int long nint nuint object sbyte short string uint ulong ushort "
        "void dynamic"
    ),
)  # fmt: skip
CPP = LanguageProfile(
    language="cpp", family="c", separator="::", scope="file", sees_enclosing=True, suffix=True,
    builtins=_words(
        "bool char char8_t char16_t char32_t double float int long short signed unsigned void wchar_t auto std"
    ),
)  # fmt: skip
C = LanguageProfile(language="c", family="c", scope="file", sees_enclosing=True, builtins=CPP.builtins)
GO = LanguageProfile(
    language="go", family="go", scope="file",
    builtins=_words(
        "any bool byte comparable complex64 complex128 error float32 float64 int int8 int16 int32 int64 rune string "
        "uint uint8 uint16 uint32 uint64 uintptr true false iota nil append cap clear close complex copy delete imag "
        "len make max min new panic print println real recover"
    ),
)  # fmt: skip
_RUST_PRIMITIVES = _words(
    "bool char str u8 u16 u32 u64 u128 usize i8 i16 i32 i64 i128 isize f32 f64 slice array tuple unit pointer "
    "reference fn never"
)
RUST = LanguageProfile(
    language="rust", family="rust", separator="::", members_first=False, around=True,
    macro_roots=("std", "core", "alloc"),
    implicit=("std.prelude.v1", "core.prelude.v1"),
    instead={"self": "module", "super": "parent", "crate": "root", "Self": "type", "$crate": "root"},
    known_bases=_words(
        "Debug Clone Copy PartialEq Eq Hash Default PartialOrd Ord Display Error Send Sync Sized Unpin From Into "
        "TryFrom TryInto AsRef AsMut Drop Extend ToString Add Sub Mul Div Neg Not Index IndexMut"
    ),
    known_members=_words(
        "fmt clone clone_from eq ne hash default partial_cmp cmp lt le gt ge max min clamp source description cause "
        "from into try_from try_into as_ref as_mut drop extend to_string to_owned add sub mul div neg not index "
        "index_mut borrow borrow_mut type_id Error Output"
    ),
    builtins=_RUST_PRIMITIVES | {"true", "false"},
    primitives={**{name: name for name in _RUST_PRIMITIVES}, "true": "bool", "false": "bool"},
)  # fmt: skip
TYPESCRIPT = LanguageProfile(
    language="typescript", family="ecmascript", around=True, unique=True,
    builtins=_words(
        "any bigint boolean never null number object string symbol undefined unknown void this true false Array "
        "Promise Record Partial Readonly Map Set Date Error RegExp Function Object String Number Boolean Symbol "
        "JSON Math Iterable Iterator AsyncIterable ReadonlyArray ReadonlyMap ReadonlySet Uint8Array ArrayBuffer"
    ),
)  # fmt: skip
JAVASCRIPT = LanguageProfile(
    language="javascript", family="ecmascript", around=True, unique=True, builtins=TYPESCRIPT.builtins
)
#: Descriptions of interfaces refer to one another: messages to schemas, schemas to schemas elsewhere.
INTERFACES = tuple(
    LanguageProfile(language=name, family="interface")
    for name in ("openapi", "asyncapi", "json-schema", "protobuf", "xsd", "wsdl")
)
GRAPHQL = LanguageProfile(language="graphql", family="interface", builtins=_words("Int Float String Boolean ID"))
#: Names of tables and columns; queries name them in full, texts from where they stand.
SQL = LanguageProfile(language="sql", family="data", sees_enclosing=True)
#: Languages in which a member that takes the place of another says so.
OVERRIDES_TOLD = frozenset({"java", "kotlin", "csharp", "rust"})
#: For guides, which are of no language: names must be told in full.
PROSE = LanguageProfile(language="", family="", suffix=True)

PROFILES = {
    p.language: p
    for p in (PYTHON, JAVA, KOTLIN, CSHARP, CPP, C, GO, RUST, TYPESCRIPT, JAVASCRIPT, GRAPHQL, *INTERFACES, SQL)
}  # fmt: skip

FAMILIES = frozenset(p.family for p in PROFILES.values())


def profile_of(language: str) -> LanguageProfile:
    """How names of a language are looked up; prose's way for one that is unknown."""
    return PROFILES.get(language, PROSE)


def family_of(language: str) -> str:
    """The languages that refer to each other's names share one family."""
    return profile_of(language).family
