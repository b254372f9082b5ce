package halmere.berthplan;

import java.util.EnumSet;
import java.util.Objects;
import java.util.Set;

/**
 * One place at a quay where a ferry can lie.
 *
 * <p>A berth never changes. Whether a ferry fits depends on the tide as well:
 * see {@link BerthPlan#fits(Berth, Ferry)}.
 */
public class Berth {
    /** Under-keel clearance that every plan keeps, in metres. */
    public static final double CLEARANCE_METRES = 0.5;

    private final String name;
    private final double length;
    private final double depth;
    private final Set<Side> sides;

    /**
     * Makes a berth that takes ferries on both sides.
     *
     * @param name what the harbour calls it, such as {@code "Q2"}
     * @param length in metres
     * @param depth at chart datum, in metres
     */
    public Berth(String name, double length, double depth) {
        this(name, length, depth, EnumSet.allOf(Side.class));
    }

    /**
     * Makes a berth.
     *
     * @param name what the harbour calls it
     * @param length in metres
     * @param depth at chart datum, in metres
     * @param sides the sides that its fenders allow
     * @throws IllegalArgumentException if length or depth is not positive
     */
    public Berth(String name, double length, double depth, Set<Side> sides) {
        if (length <= 0 || depth <= 0) {
            throw new IllegalArgumentException("a berth has a length and a depth");
        }
        this.name = Objects.requireNonNull(name);
        this.length = length;
        this.depth = depth;
        this.sides = EnumSet.copyOf(sides);
    }

    /** What the harbour calls it. */
    public String name() {
        return name;
    }

    /**
     * How long a ferry may be.
     *
     * @return metres between the outermost bollards
     */
    public double length() {
        return length;
    }

    /**
     * How deep it is at chart datum.
     *
     * @return metres; add the tide for the water there really is
     */
    public double depth() {
        return depth;
    }

    /** The sides that its fenders allow. */
    public Set<Side> sides() {
        return EnumSet.copyOf(sides);
    }

    // Whether its shore power has been switched on by the office.
    public boolean hasShorePower() {
        return depth > 4;
    }
}
