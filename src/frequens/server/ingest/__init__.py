"""Films: taken in, indexed, copied for review and served."""
