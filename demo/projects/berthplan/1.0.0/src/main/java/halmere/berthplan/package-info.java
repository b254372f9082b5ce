/**
 * Berths and who lies in them.
 *
 * <p>Begin with a {@link Harbour}, ask it for a {@link BerthPlan}, and place each
 * {@link Berthing} with {@link BerthPlan#assign(Berthing)}. Times are those of the harbour.
 *
 * @since 1.0
 */
package halmere.berthplan;
