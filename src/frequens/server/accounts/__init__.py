"""Who may see what: workspaces and their members."""
