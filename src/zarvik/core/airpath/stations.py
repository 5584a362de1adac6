"""Names of the places along the air path, in the order of the flow."""

from __future__ import annotations

AMBIENT = "ambient"
COMPRESSOR_INLET = "compressor_inlet"
COMPRESSOR_OUTLET = "compressor_outlet"
COOLER_INLET = "cooler_inlet"
COOLER_OUTLET = "cooler_outlet"
PLENUM = "plenum"
EXHAUST_PORT = "exhaust_port"
TURBINE_INLET = "turbine_inlet"
TURBINE_OUTLET = "turbine_outlet"
TAILPIPE = "tailpipe"

TITLES: dict[str, str] = {
    AMBIENT: "Ambient",
    COMPRESSOR_INLET: "Compressor inlet",
    COMPRESSOR_OUTLET: "Compressor outlet",
    COOLER_INLET: "Intercooler inlet",
    COOLER_OUTLET: "Intercooler outlet",
    PLENUM: "Plenum",
    EXHAUST_PORT: "Exhaust port",
    TURBINE_INLET: "Turbine inlet",
    TURBINE_OUTLET: "Turbine outlet",
    TAILPIPE: "Tailpipe",
}
BELT_TITLES: dict[str, str] = TITLES | {
    COMPRESSOR_INLET: "Blower inlet",
    COMPRESSOR_OUTLET: "Blower outlet",
    TURBINE_INLET: "Manifold end",
    TURBINE_OUTLET: "Exhaust start",
}
"""The same places of a build with a blower on the belt and no turbine."""

# Sections of duct pieces, each from one station to the next.
INTAKE = "intake"
HOT_PIPE = "hot_pipe"
COLD_PIPE = "cold_pipe"
MANIFOLD = "manifold"
EXHAUST = "exhaust"
SECTIONS: dict[str, tuple[str, str]] = {
    INTAKE: (AMBIENT, COMPRESSOR_INLET),
    HOT_PIPE: (COMPRESSOR_OUTLET, COOLER_INLET),
    COLD_PIPE: (COOLER_OUTLET, PLENUM),
    MANIFOLD: (EXHAUST_PORT, TURBINE_INLET),
    EXHAUST: (TURBINE_OUTLET, TAILPIPE),
}
COLD_SECTIONS: tuple[str, ...] = (INTAKE, HOT_PIPE, COLD_PIPE)
