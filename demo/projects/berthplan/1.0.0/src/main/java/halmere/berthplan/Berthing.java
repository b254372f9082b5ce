package halmere.berthplan;

import java.time.Duration;
import java.time.Instant;

/** One ferry in one {@link Berth} for a while. */
public final class Berthing {
    private final Ferry ferry;
    private final Berth berth;
    private final Instant from;
    private final Instant until;

    private Berthing(Ferry ferry, Berth berth, Instant from, Instant until) {
        this.ferry = ferry;
        this.berth = berth;
        this.from = from;
        this.until = until;
    }

    /**
     * A ferry's stay.
     *
     * @param ferry who
     * @param berth where
     * @param from when her lines are fast
     * @param stay how long
     * @return the berthing
     * @throws IllegalArgumentException if the stay is negative
     */
    public static Berthing of(Ferry ferry, Berth berth, Instant from, Duration stay) {
        if (stay.isNegative()) {
            throw new IllegalArgumentException("a stay takes time");
        }
        return new Berthing(ferry, berth, from, from.plus(stay));
    }

    /** Who. */
    public Ferry ferry() {
        return ferry;
    }

    /** Where. */
    public Berth berth() {
        return berth;
    }

    /** When her lines are fast. */
    public Instant from() {
        return from;
    }

    /** When she has left. */
    public Instant until() {
        return until;
    }

    /**
     * Whether two stays need the same water at the same time.
     *
     * @param that another berthing, of this ferry or another
     * @return true if berth and times overlap
     * @see BerthPlan#conflicts()
     */
    public boolean overlaps(Berthing other) {
        return berth.name().equals(other.berth.name()) && from.isBefore(other.until) && other.from.isBefore(until);
    }
}
