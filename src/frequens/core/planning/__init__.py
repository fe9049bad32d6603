"""Before the session: the plan, its arithmetic, and the card of the next session."""
