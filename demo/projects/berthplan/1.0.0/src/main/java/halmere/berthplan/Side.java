package halmere.berthplan;

/** The side with which a ferry lies at the quay. */
public enum Side {
    /** Left, looking ahead. */
    PORT,
    /** Right, looking ahead. */
    STARBOARD;

    /**
     * The other side.
     *
     * @return {@link #STARBOARD} for {@link #PORT}, and the reverse
     */
    public Side opposite() {
        return this == PORT ? STARBOARD : PORT;
    }
}
