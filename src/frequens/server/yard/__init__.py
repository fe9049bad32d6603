"""In the yard: what a phone takes along to lead a session without a network, and brings back."""
