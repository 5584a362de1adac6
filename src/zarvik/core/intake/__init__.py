"""What the engine breathes through once the charge has come: meter, throttle, ports, valves."""
