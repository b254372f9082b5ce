"""Reading a source into a bundle. Never runs or imports what it reads."""
