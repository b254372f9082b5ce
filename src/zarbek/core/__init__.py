"""All computation: values in, values out. No framework, no network, no database, no clock."""
