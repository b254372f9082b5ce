package halmere.fareglow

/**
 * An amount in euro cents. Never a floating-point number.
 *
 * @property cents may be negative for what is paid back
 */
@JvmInline
value class Money(val cents: Long) : Comparable<Money> {
    /** Both amounts together. */
    operator fun plus(other: Money): Money = Money(cents + other.cents)

    /** This amount less [other]. */
    operator fun minus(other: Money): Money = Money(cents - other.cents)

    /** The amount [count] times. */
    operator fun times(count: Int): Money = Money(cents * count)

    /** As [Comparable] demands. */
    override fun compareTo(other: Money): Int = cents.compareTo(other.cents)

    /** As on a ticket, such as `4.50`. */
    override fun toString(): String = "${cents / 100}.${(cents % 100).toString().padStart(2, '0')}"

    companion object {
        /** Nothing to pay. */
        val ZERO: Money = Money(0)

        /** An amount in whole euros; see [cents]. */
        fun euros(count: Long): Money = Money(count * 100)
    }
}

/** So many euros: `3.euros`. */
val Int.euros: Money
    get() = Money(this * 100L)
