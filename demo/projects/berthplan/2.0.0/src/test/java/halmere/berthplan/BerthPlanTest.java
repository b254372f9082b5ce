package halmere.berthplan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

class BerthPlanTest {
    private final Berth quay = new Berth("Q2", 40.0, 3.2);
    private final Harbour harbour = new Harbour("Halmere", List.of(quay));
    private final Instant noon = Instant.parse("2026-03-02T12:00:00Z");
    private BerthPlan plan;

    @BeforeEach
    void openThePlan() {
        plan = harbour.plan();
    }

    /** Two ferries cannot lie in one berth at the same time: the second is turned away. */
    @Test
    @Tag("example")
    void theSecondFerryIsTurnedAway() {
        Berthing first = Berthing.of(Ferry.WREN, quay, noon, Duration.ofMinutes(40));
        Berthing second = Berthing.of(Ferry.WREN.laden(0.2), quay, noon.plusSeconds(600), Duration.ofMinutes(40));

        assertTrue(plan.place(first));
        assertFalse(plan.place(second));
        assertEquals(1, plan.size());
    }

    /**
     * A laden ferry needs more water than there is at low tide.
     *
     * @example Water under the keel
     */
    @Test
    void aLadenFerryNeedsMoreWater() {
        assertTrue(plan.fits(quay, Ferry.WREN));
        assertFalse(plan.fits(quay, Ferry.WREN.laden(1.5)));
    }

    @Test
    void plansAreEmptyAtFirst() {
        assertEquals(0, plan.size());
    }
}
