plugins {
    kotlin("jvm") version "1.9.24"
}

group = "halmere"
version = "1.0.0"
description = "Fares and passes of Halmere Ferries."

dependencies {
    api("halmere:berthplan:[1.0,2.0)")
}
