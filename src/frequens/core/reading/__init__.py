"""Values from outside, read with every fault named at its place."""
