package halmere.fareglow

/** Why a pass was refused. */
class PassExpired(val pass: Pass) : IllegalStateException("the pass ran out")

/** What a passenger can hold instead of a ticket. */
sealed interface Pass {
    /** Whether it is out of date. */
    val isExpired: Boolean

    /** Whether it pays for a [passenger]. */
    fun covers(passenger: Passenger): Boolean
}

/** Good for one day. */
class DayPass(override val isExpired: Boolean) : Pass {
    override fun covers(passenger: Passenger): Boolean = passenger != Passenger.INFANT
}

/**
 * Good for a number of crossings.
 *
 * @property left crossings that are left
 */
class TenPass(var left: Int) : Pass {
    override val isExpired: Boolean
        get() = left <= 0

    override fun covers(passenger: Passenger): Boolean = passenger == Passenger.ADULT

    /** Takes one crossing off. Returns whether there was one; see [TenPass.left]. */
    fun stamp(): Boolean = if (left > 0) { left--; true } else false
}

// Sells passes over the counter in the harbour office.
class Counter {
    /** A pass for today. */
    fun day(): Pass = DayPass(false)

    /** Ten crossings. */
    fun ten(): TenPass = TenPass(10)

    /** What a pass costs under a [tariff]. */
    @Deprecated("Use priceOf instead.", ReplaceWith("priceOf"))
    fun cost(tariff: Tariff): Money = priceOf(tariff)

    /** What ten crossings cost under a [tariff]. */
    fun priceOf(tariff: Tariff): Money = tariff.base * 8
}

/** Passes by their holder's name. */
typealias PassBook = Map<String, Pass>

/** Whether anyone in the book may still travel. */
fun PassBook.anyValid(): Boolean = values.any { !it.isExpired }
