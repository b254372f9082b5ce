"""Java. Source: The Java Language Specification, Java SE 17."""
