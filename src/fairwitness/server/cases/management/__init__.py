"""Commands of ``manage.py``."""
