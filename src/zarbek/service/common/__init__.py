"""What every application stands on: the API, lists, storage, requests outwards."""
