package halmere.berthplan;

/** Two ferries want one berth. */
public class BerthConflictException extends Exception {
    private static final long serialVersionUID = 1L;
    private final transient Berthing first;
    private final transient Berthing second;

    /**
     * Makes the error.
     *
     * @param first who lies there
     * @param second who wants to
     */
    public BerthConflictException(Berthing first, Berthing second) {
        super(first.berth().name() + " is taken");
        this.first = first;
        this.second = second;
    }

    /** Who lies there. */
    public Berthing first() {
        return first;
    }

    /** Who wants to. */
    public Berthing second() {
        return second;
    }
}
