"""Making of a film what the house needs: stages in confined processes, and the review copy."""
