"""English. A template's names are those of the numbers it is given."""
