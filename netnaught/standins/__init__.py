"""Small simulated stand-ins for what the product meets outside: the bank's service."""
