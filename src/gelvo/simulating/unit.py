"""Units of the Functional Mock-up Interface, versions 2.0 and 3.0: the description of the model, and the archive.

Source: Modelica Association Project FMI, "Functional Mock-up Interface for Model Exchange and Co-Simulation" 2.0 (2014) and
"Functional Mock-up Interface Specification" 3.0 (2022).
"""

from __future__ import annotations

import hashlib
import io
import platform
import uuid
import zipfile
from collections.abc import Iterator, Mapping
from typing import NamedTuple
from xml.etree import ElementTree

from gelvo.errors import DomainError, ExportError
from gelvo.simulating.model import Model
from gelvo.units import unit
from gelvo.version import VERSION

VERSIONS = {2: "2.0", 3: "3.0"}
WHEN = (1980, 1, 1, 0, 0, 0)  # an archive is the same on every day
BASE_UNITS = ("kg", "m", "s", "A", "K", "mol", "cd", "rad")
# where a library stands in the archive: by system and machine, in the words of each version
PLACES = {
    ("Linux", "x86_64"): ("linux64", "x86_64-linux", "so"), ("Linux", "aarch64"): ("aarch64-linux", "aarch64-linux", "so"),
    ("Darwin", "x86_64"): ("darwin64", "x86_64-darwin", "dylib"), ("Darwin", "arm64"): ("darwin64", "aarch64-darwin", "dylib"),
    ("Windows", "AMD64"): ("win64", "x86_64-windows", "dll"),
}  # fmt: skip


class Variable(NamedTuple):
    """One variable of the unit; rate_of: the number of the state that it is the rate of."""

    name: str
    causality: str
    variability: str
    initial: str = ""
    start: float | None = None
    rate_of: int | None = None
    unit: str = ""


def variables(model: Model, units: Mapping[str, str]) -> list[Variable]:
    """All variables in the order of their numbers, which unit.h has too."""
    table = [Variable(model.time.name, "independent", "continuous", unit=units.get(model.time.name, ""))]
    for state, begin in zip(model.states, model.start, strict=True):
        table.append(Variable(state.name, "output", "continuous", "exact", begin, unit=units.get(state.name, "")))
    for k, state in enumerate(model.states):
        table.append(Variable(f"der({state.name})", "local", "continuous", "calculated", rate_of=1 + k))
    for parameter, value in zip(model.parameters, model.values, strict=True):
        table.append(Variable(parameter.name, "parameter", "fixed", "exact", value, unit=units.get(parameter.name, "")))
    table += [Variable(n.name, "input", "continuous", start=0.0, unit=units.get(n.name, "")) for n in model.inputs]
    table += [Variable(k, "output", "continuous", "calculated", unit=units.get(k, "")) for k in model.outputs]
    return [*table, *[Variable(k, "local", "continuous", "calculated", unit=units.get(k, "")) for k in model.events]]


def token(sources: Mapping[str, str]) -> str:
    """What ties a library to its description: the same for the same sources."""
    text = "\0".join(part for pair in sorted(sources.items()) for part in pair)
    return f"{{{uuid.UUID(bytes=hashlib.sha256(text.encode()).digest()[:16])}}}"


def description(model: Model, units: Mapping[str, str], version: int, mark: str, sources: list[str]) -> str:
    """modelDescription.xml of a version."""
    table = variables(model, units)
    about = {"fmiVersion": VERSIONS[version], "modelName": model.name, "generationTool": f"Gelvo {VERSION}"}
    about |= {"instantiationToken": mark} if version == 3 else {"guid": mark}
    if version == 2:
        about |= {"variableNamingConvention": "flat", "numberOfEventIndicators": str(len(model.events))}
    root = ElementTree.Element("fmiModelDescription", about)
    can = {"modelIdentifier": model.name, "canGetAndSetFMUstate" if version == 2 else "canGetAndSetFMUState": "true",
           "canSerializeFMUstate" if version == 2 else "canSerializeFMUState": "true"}  # fmt: skip
    exchange = ElementTree.SubElement(root, "ModelExchange", can)
    together = ElementTree.SubElement(root, "CoSimulation", can | {"canHandleVariableCommunicationStepSize": "true"})
    if version == 2:
        for way in (exchange, together):
            listed = ElementTree.SubElement(way, "SourceFiles")
            for source in sources:
                ElementTree.SubElement(listed, "File", {"name": source})
    _add_units(root, [v.unit for v in table if v.unit])
    ElementTree.SubElement(root, "DefaultExperiment", {"startTime": "0", "stopTime": "10", "tolerance": "1e-9"})
    listed = ElementTree.SubElement(root, "ModelVariables")
    for number, variable in enumerate(table):
        _add_variable(listed, number, variable, version)
    _add_structure(ElementTree.SubElement(root, "ModelStructure"), table, version, len(model.events))
    ElementTree.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="unicode") + "\n"


def _add_units(root: ElementTree.Element, words: list[str]) -> None:
    if not words:
        return
    listed = ElementTree.SubElement(root, "UnitDefinitions")
    for word in dict.fromkeys(words):
        entry = ElementTree.SubElement(listed, "Unit", {"name": word})
        try:
            found = unit(word)
        except DomainError:
            continue  # a word that is told and not computed with
        if word == "rad":
            ElementTree.SubElement(entry, "BaseUnit", {"rad": "1"})
            continue
        powers = {symbol: str(int(k)) for symbol, k in found.dimension if k.denominator == 1 and symbol in BASE_UNITS}
        if len(powers) == len(found.dimension) and not found.turns:
            factor = {} if found.factor == 1 else {"factor": repr(float(found.factor))}
            ElementTree.SubElement(entry, "BaseUnit", powers | factor)


def _add_variable(listed: ElementTree.Element, number: int, variable: Variable, version: int) -> None:
    about = {
        "name": variable.name,
        "valueReference": str(number),
        "causality": variable.causality,
        "variability": variable.variability,
    }
    about |= {"initial": variable.initial} if variable.initial else {}
    real = {"start": repr(variable.start)} if variable.start is not None else {}
    real |= {"unit": variable.unit} if variable.unit else {}
    if version == 3:
        real |= {"derivative": str(variable.rate_of)} if variable.rate_of is not None else {}
        ElementTree.SubElement(listed, "Float64", about | real)
        return
    real |= {"derivative": str(variable.rate_of + 1)} if variable.rate_of is not None else {}  # counted from 1
    ElementTree.SubElement(ElementTree.SubElement(listed, "ScalarVariable", about), "Real", real)


def _add_structure(structure: ElementTree.Element, table: list[Variable], version: int, events: int) -> None:
    outputs = [k for k, v in enumerate(table) if v.causality == "output"]
    rates = [k for k, v in enumerate(table) if v.rate_of is not None]
    computed = [k for k in outputs if table[k].initial == "calculated"]
    if version == 3:
        rows = [("Output", outputs), ("ContinuousStateDerivative", rates), ("InitialUnknown", [*computed, *rates]),
                ("EventIndicator", list(range(len(table) - events, len(table))))]  # fmt: skip
        for title, numbers in rows:
            for k in numbers:
                ElementTree.SubElement(structure, title, {"valueReference": str(k)})
        return
    for title, numbers in (("Outputs", outputs), ("Derivatives", rates), ("InitialUnknowns", sorted([*computed, *rates]))):
        if numbers:
            group = ElementTree.SubElement(structure, title)
            for k in numbers:
                ElementTree.SubElement(group, "Unknown", {"index": str(k + 1)})


def build_description(model: Model, sources: list[str]) -> str:
    """sources/buildDescription.xml of version 3.0."""
    root = ElementTree.Element("fmiBuildDescription", {"fmiVersion": VERSIONS[3]})
    configuration = ElementTree.SubElement(root, "BuildConfiguration", {"modelIdentifier": model.name})
    listed = ElementTree.SubElement(configuration, "SourceFileSet", {"language": "C99"})
    for source in sources:
        ElementTree.SubElement(listed, "SourceFile", {"name": source})
    ElementTree.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(root, encoding="unicode") + "\n"


def library_place(name: str, version: int) -> str:
    """Where the library of this machine stands in the archive."""
    system = (platform.system(), platform.machine())
    if system not in PLACES:
        raise ExportError(f"the interface has no name for a machine such as {' '.join(system)}: build the unit from its sources")
    two, three, ending = PLACES[system]
    return f"binaries/{two if version == 2 else three}/{name}.{ending}"


def archive(files: Mapping[str, bytes]) -> bytes:
    """The files in one archive, the same bytes whenever it is made."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in _in_order(files):
            entry = zipfile.ZipInfo(name, WHEN)
            entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, 0o644 << 16
            packed.writestr(entry, content)
    return buffer.getvalue()


def _in_order(files: Mapping[str, bytes]) -> Iterator[tuple[str, bytes]]:
    """The description first, where readers look for it."""
    yield from sorted(files.items(), key=lambda pair: (pair[0] != "modelDescription.xml", pair[0]))
