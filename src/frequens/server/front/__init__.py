"""What stands between the network and Django: patient with slow clients, at nobody else's cost."""
