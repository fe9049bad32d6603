"""What goes out of the house: the two-page report, and tables."""
