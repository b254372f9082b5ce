plugins {
    kotlin("jvm") version "1.9.24"
}

group = "halmere"
version = "1.2.0"
description = "Fares and passes of Halmere Ferries."

dependencies {
    api("halmere:berthplan:[2.0,3.0)")
}
