"""What a parts list says of a part beside its physics: flange, length, mass, price, lead time, leads."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given


class PartFigures:
    """What a shop asks of every part."""

    frame: Reals = given("m", "", "side of its flange", above=0)
    length: Reals = given("m", "", "length behind the flange", above=0)
    mass: Reals = given("kg", "", "mass", above=0)
    price: Reals = given("", "", "price, in the user's own money", least=0)
    lead_time: Reals = given("s", "", "from order to delivery", least=0, shown="d")


class MotorLeads:
    """How a stepper's coils come out."""

    leads: Reals = given("", "", "leads that come out: 4, 6 or 8; more than 4 can be wired in several ways", whole=True, least=4,
                         most=8, plural=True)


class DriverFigures:
    """For which motors a driver is."""

    drives: str | None = given("", "", "the kind of motor that it drives; a stepper where nothing is said",
                               choices=("stepper", "servo"), label="Kind of motor driven")


class BrakeFigures:
    """What a holding brake takes beside what it does once it is fitted."""

    coil_power: Reals = given("W", "P", "what its coil takes while it is held open", above=0)
