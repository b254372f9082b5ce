package halmere.fareglow

/** Who travels, as far as the price depends on it. */
enum class Passenger(val share: Int) {
    /** From sixteen on. */
    ADULT(100),

    /** From four to fifteen. */
    CHILD(50),

    /** Under four; travels free, but takes a place. */
    INFANT(0),

    /** With a card of the islands. */
    ISLANDER(40),
}

/** A group that pays together. */
data class Party(val members: List<Passenger>) {
    /** How many places the party takes. */
    val size: Int
        get() = members.size

    /** The party with one more [passenger]. */
    fun with(passenger: Passenger): Party = Party(members + passenger)
}
