"""A simulated animal and a simulated hand, as marks a careful reviewer would make."""
