package halmere.berthplan;

import java.util.List;
import java.util.Optional;

/** A harbour and its berths. */
public class Harbour {
    private final String name;
    private final List<Berth> berths;

    /**
     * Makes a harbour.
     *
     * @param name as on the chart
     * @param berths all of them
     */
    public Harbour(String name, List<Berth> berths) {
        this.name = name;
        this.berths = List.copyOf(berths);
    }

    /** As on the chart. */
    public String name() {
        return name;
    }

    /** All berths, in the order of the quay. */
    public List<Berth> berths() {
        return berths;
    }

    /**
     * Finds a berth.
     *
     * @param name what {@link Berth#name()} says
     * @return the berth, if there is one of that name
     */
    public Optional<Berth> berth(String name) {
        return berths.stream().filter(b -> b.name().equals(name)).findFirst();
    }

    /**
     * An empty plan.
     *
     * @return for this harbour
     */
    public BerthPlan plan() {
        return new BerthPlan(this);
    }
}
