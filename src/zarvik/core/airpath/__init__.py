"""The whole air path as one system: assembled numbers, the steady solution, sweeps."""
