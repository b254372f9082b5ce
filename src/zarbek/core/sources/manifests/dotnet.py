"""What a ``*.csproj`` file declares. Sources: MSBuild reference; NuGet documentation, "PackageReference"."""

from __future__ import annotations

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException
from packageurl import PackageURL

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts


def nuget_purl(name: str) -> str:
    """The package URL of a package of .NET (ECMA-427, type nuget)."""
    return PackageURL(type="nuget", name=name).to_string()


def read_csproj(text: str, stem: str) -> PackageFacts:
    """stem: the file's name without its ending, which is the package's name by default."""
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, DefusedXmlException, ValueError) as error:
        return PackageFacts(unreadable=[f"it is no readable XML: {error}"], file=f"{stem}.csproj")
    for element in root.iter():
        element.tag = element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""
    found = []
    for reference in root.iter("PackageReference"):
        name = reference.get("Include", "")
        if name:
            found.append(
                Dependency(nuget_purl(name), reference.get("Version", "") or reference.findtext("Version", ""))
            )

    def first(tag: str) -> str:
        return next((e.text.strip() for e in root.iterfind(f"PropertyGroup/{tag}") if e.text), "")

    name = first("PackageId") or first("AssemblyName") or stem
    return PackageFacts(
        name, first("Version") or first("VersionPrefix"), first("Description"), first("RepositoryUrl"),
        nuget_purl(name),
        sorted(found, key=lambda d: d.purl), [], f"{stem}.csproj",
    )  # fmt: skip
