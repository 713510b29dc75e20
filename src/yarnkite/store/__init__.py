"""What is kept: MariaDB through plain SQL, one module per group of tables."""
