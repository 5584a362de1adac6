"""The whole air path as one air path: assembled numbers, the steady solution, sweeps."""
