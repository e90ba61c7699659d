"""Tables and queries. No rules of the job."""
