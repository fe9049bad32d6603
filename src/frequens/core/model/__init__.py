"""What a session is made of: events, the time at work, attempts, and what was not asked."""
