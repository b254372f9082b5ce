package halmere.berthplan;

/**
 * What a plan must know of a ferry.
 *
 * @param name as painted on her bow
 * @param length over all, in metres
 * @param draught at her usual load, in metres
 */
public record Ferry(String name, double length, double draught) {
    /** Halmere's smallest ferry, for tests and examples. */
    public static final Ferry WREN = new Ferry("Wren", 24.5, 1.9);

    /**
     * The same ferry with more aboard.
     *
     * @param extra what the load adds to her draught, in metres
     * @return a new ferry; this one stays as it is
     */
    public Ferry laden(double extra) {
        return new Ferry(name, length, draught + extra);
    }
}
