"""Compares the table in elements.go with the table of the periodictable library
(Debian's python3-periodictable). Run by hand from this folder:

    /usr/bin/python3 elements_check.py

The library may follow an older edition of the standard atomic weights; a line is
printed for each element that differs by more than the stated limits.
"""

import re

import periodictable

pattern = re.compile(r'(interval|stated)\("(\w+)", "(\w+)", ([\d.]+), ([\d.]+)')
for kind, symbol, name, weight, second in pattern.findall(open("elements.go").read()):
    other = periodictable.elements.symbol(symbol)
    if abs(other.mass - float(weight)) > 1.5e-5 * float(weight) or other.name != name:
        print(f"{symbol} {name}: here {weight}, periodictable {other.mass} {other.name}")
