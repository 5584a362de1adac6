"""What moves the gate, and the blow-off valve, of a document."""

from __future__ import annotations

from zarvik.core.blow_off.valve import BlowOff
from zarvik.core.wastegate.actuator import FOUR, FULL_SHARE, INSIDE, OUTSIDE, Actuator, bench_of
from zarvik.core.wastegate.solenoid import numbers, role_of
from zarvik.project.document import document as doc


def actuator_of(project: doc.Project) -> Actuator | None:
    """What moves the gate of a document: what is not said stands for what is usual, a spring that nobody says for half a bar.
    None without a gate or with a blower."""
    g = project.wastegate
    if g.diameter.si <= 0.0 or project.blower.fitted:
        return None
    inside = g.kind == "inside"
    diaphragm = g.diaphragm.si or (INSIDE if inside else OUTSIDE) * g.diameter.si
    share = (g.diameter.si / diaphragm) ** 2
    said = g.spring.si > 0.0
    spring = g.spring.si if said else UNSAID
    full = g.fully_open.si if g.fully_open.si > spring else FULL_SHARE * spring
    if g.spring_rating == "engine":
        spring, full = bench_of(spring, share), bench_of(full, share)
    ports = numbers(g.control, g.ports_four if g.control == FOUR else g.ports)
    plumbed = tuple((role_of(one, ports), role_of(two, ports)) for one, two in g.plumbed)
    own = project.chosen.fit.gate if project.chosen is not None else ""
    flap = {("outside", "inside"): "idle", ("inside", "outside"): "missing"}.get((g.kind, own), "")
    return Actuator(
        spring=spring,
        full=full,
        diaphragm=diaphragm,
        valve=g.diameter.si,
        reference=g.reference,
        control=g.control,
        duty=g.duty.si,
        said=said,
        hose=g.hose_bore.si,
        long=g.hose_length.si,
        plumbed=plumbed,
        ports=ports,
        by_boost=g.spring_rating == "engine",
        flap=flap,
    )


def blow_off_of(project: doc.Project) -> BlowOff | None:
    """The blow-off valve of a document; None with a blower."""
    if project.blower.fitted:
        return None
    g = project.wastegate
    return BlowOff(g.blow_off.si, g.blow_off_pressure.si, g.blow_off_outlet, g.air_metering == "yes" or project.air_meter.kind != "none")


UNSAID = 0.5e5  # Pa gauge of a spring that nobody said, as springs are named in the document; common practice, no source
