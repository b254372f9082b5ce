package halmere.berthplan;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * A day's plan for one {@link Harbour}.
 *
 * <pre>{@code
 * BerthPlan plan = harbour.plan();
 * plan.assign(Berthing.of(Ferry.WREN, q2, noon, Duration.ofMinutes(40)));
 * }</pre>
 *
 * <table>
 * <tr><th>What</th><th>How</th></tr>
 * <tr><td>fits</td><td>{@link #fits(Berth, Ferry)}</td></tr>
 * <tr><td>conflicts</td><td>{@link #conflicts()}</td></tr>
 * </table>
 *
 * @see BerthBook
 */
public class BerthPlan implements BerthBook {
    private final Harbour harbour;
    private final List<Berthing> berthings = new ArrayList<>();

    BerthPlan(Harbour harbour) {
        this.harbour = harbour;
    }

    /** The harbour that this is a plan of. */
    public Harbour harbour() {
        return harbour;
    }

    /**
     * Places a berthing, unless another ferry lies there.
     *
     * @param berthing what to place
     * @return whether there was room
     * @since 1.1
     */
    public boolean place(Berthing berthing) {
        for (Berthing other : berthings) {
            if (other.overlaps(berthing)) {
                return false;
            }
        }
        return berthings.add(berthing);
    }

    /**
     * Puts a berthing into the plan.
     *
     * @param berthing what to place
     * @throws BerthConflictException if another ferry lies there
     * @deprecated since 1.1; use {@link #place(Berthing)} and look at what it returns
     */
    @Deprecated(since = "1.1", forRemoval = true)
    public void assign(Berthing berthing) throws BerthConflictException {
        for (Berthing other : berthings) {
            if (other.overlaps(berthing)) {
                throw new BerthConflictException(other, berthing);
            }
        }
        berthings.add(berthing);
    }

    /**
     * Takes a berthing out of the plan.
     *
     * @param berthing what to remove
     * @return whether it was there
     */
    public boolean remove(Berthing berthing) {
        return berthings.remove(berthing);
    }

    /**
     * Whether a ferry fits into a berth at chart datum.
     *
     * @param berth the place
     * @param ferry who wants to lie there
     * @return true if length and draught leave {@value Berth#CLEARANCE_METRES} m
     */
    public boolean fits(Berth berth, Ferry ferry) {
        return ferry.length() <= berth.lengthMetres()
                && ferry.draught() + Berth.CLEARANCE_METRES <= berth.depthMetres();
    }

    /**
     * Pairs of berthings that need the same water.
     *
     * @return the second of each pair, in order of time
     */
    public List<Berthing> conflicts() {
        List<Berthing> found = new ArrayList<>();
        List<Berthing> sorted = berthings();
        for (int i = 1; i < sorted.size(); i++) {
            if (sorted.get(i - 1).overlaps(sorted.get(i))) {
                found.add(sorted.get(i));
            }
        }
        return found;
    }

    @Override
    public List<Berthing> berthings() {
        List<Berthing> sorted = new ArrayList<>(berthings);
        sorted.sort(Comparator.comparing(Berthing::from));
        return sorted;
    }

    @Override
    public int size() {
        return berthings.size();
    }
}
