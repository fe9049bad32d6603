"""When to raise, hold or lower, and the numbers the judgement works with: settings of a plan."""
