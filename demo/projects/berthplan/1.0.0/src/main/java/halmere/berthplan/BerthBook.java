package halmere.berthplan;

import java.time.Instant;
import java.util.List;

/**
 * Who lies where. A {@link BerthPlan} is one that can be written.
 */
public interface BerthBook {
    /**
     * All berthings, by the time at which they begin.
     *
     * @return a copy
     */
    List<Berthing> berthings();

    /**
     * Who lies in a berth.
     *
     * @param berth the place
     * @param at the moment
     * @return the ferry, or null for nobody
     */
    default Ferry occupant(Berth berth, Instant at) {
        for (Berthing one : berthings()) {
            if (one.berth().name().equals(berth.name()) && !at.isBefore(one.from()) && at.isBefore(one.until())) {
                return one.ferry();
            }
        }
        return null;
    }

    /**
     * How many berthings there are.
     *
     * @return not negative
     */
    int size();
}
