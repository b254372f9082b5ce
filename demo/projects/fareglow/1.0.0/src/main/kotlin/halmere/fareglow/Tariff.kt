package halmere.fareglow

import halmere.berthplan.Berth
import halmere.berthplan.Ferry
import halmere.berthplan.Harbour

/**
 * What a crossing costs.
 *
 * A tariff knows the [base] price of an adult; [Passenger.share] gives that of others. The
 * harbour's dues depend on the [Ferry] and on [Berth.lengthMetres].
 *
 * @property base price of an adult
 * @constructor Makes a tariff without dues.
 */
open class Tariff(val base: Money) {
    /**
     * Price for one [passenger].
     *
     * @param passenger who travels
     * @return rounded down to a cent
     */
    open fun price(passenger: Passenger): Money = Money(base.cents * passenger.share / 100)

    /**
     * Price for all of a [party].
     *
     * @param party who travels together
     * @param pass what they hold, if anything
     * @throws PassExpired if [pass] is out of date
     * @see Pass.covers
     */
    fun price(party: Party, pass: Pass? = null): Money {
        if (pass != null && pass.isExpired) throw PassExpired(pass)
        return party.members.filterNot { pass?.covers(it) ?: false }.fold(Money.ZERO) { sum, one -> sum + price(one) }
    }

    /** Dues for a [ferry] that lies in [berth]. */
    fun dues(ferry: Ferry, berth: Berth): Money = Money((ferry.length() * 10).toLong()) + length(berth)

    private fun length(berth: Berth): Money = Money(berth.lengthMetres().toLong())

    companion object {
        /** What Halmere charged at first. */
        val FIRST: Tariff = Tariff(Money.euros(4))

        /** Tariffs by the name of a [Harbour]. */
        fun of(harbour: Harbour): Tariff = if (harbour.name() == "Halmere") FIRST else Tariff(Money.euros(5))
    }
}

/** Dearer in the evening. */
class EveningTariff(base: Money, val extra: Money) : Tariff(base) {
    override fun price(passenger: Passenger): Money = super.price(passenger) + extra
}
