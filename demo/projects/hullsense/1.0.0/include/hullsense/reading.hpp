#ifndef HULLSENSE_READING_HPP
#define HULLSENSE_READING_HPP

#include <chrono>
#include <string>

#include "hullsense/export.h"

HULL_OPEN

/** What a sensor measures. */
enum class Quantity {
    pressure,    ///< In hectopascals.
    temperature, ///< In degrees Celsius.
    strain       ///< In microstrain; see Sensor::zero().
};

/// How good a reading is. Plain values, so `good` can be written alone.
enum Quality {
    good,    /**< Nothing to complain of. */
    suspect, /**< Outside of Sensor::limits(). */
    missing  /**< The sensor did not answer. */
};

/**
 * One value at one time.
 *
 * A reading is small and can be copied. Its quality is #quality; compare with Quality::good.
 */
struct HULL_API Reading {
    /// When, by the sensor's own clock.
    std::chrono::system_clock::time_point at;
    double value = 0.0;      ///< In the unit of its Quantity.
    Quality quality = good;  ///< How good it is.

    /**
     * Whether the value can be used.
     *
     * @return true for Quality::good
     */
    bool usable() const { return quality == good; }
};

/**
 * The name of a quantity, for people.
 *
 * @param quantity what to name
 * @return in lower case
 */
HULL_API inline std::string name_of(Quantity quantity)
{
    switch (quantity) {
    case Quantity::pressure: return "pressure";
    case Quantity::temperature: return "temperature";
    default: return "strain";
    }
}

HULL_CLOSE

#endif
