"""The trade's rules: pure functions and frozen dataclasses over numpy, with no I/O.

Public functions broadcast: every argument may be a float or an array. Units stand in the names
(``height_mm``, ``mass_g``, ``angle_per_side_deg``, ``force_n``).
"""
