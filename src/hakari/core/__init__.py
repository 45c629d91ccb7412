"""Pure computation: arrays and dataclasses in, dataclasses out; no interface, no storage, no clock."""
