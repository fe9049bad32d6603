"""The measures of a session, one file a question; `docs/measures.md` names and defines them."""
