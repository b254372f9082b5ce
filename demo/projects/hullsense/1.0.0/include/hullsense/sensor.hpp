#ifndef HULLSENSE_SENSOR_HPP
#define HULLSENSE_SENSOR_HPP

#include <functional>
#include <stdexcept>
#include <utility>
#include <vector>

#include "hullsense/reading.hpp"

HULL_OPEN

/// Thrown when a sensor does not answer.
class HULL_API SensorLost : public std::runtime_error {
public:
    using std::runtime_error::runtime_error;
};

/**
 * @brief One sensor in the hull.
 *
 * Read it with Sensor::read(), or let it call you with Sensor::watch(). A Bus finds all of
 * them; see Bus::find(). Values outside of limits() come back as Quality::suspect.
 *
 * @code
 * Sensor keel(3, Quantity::pressure);
 * if (keel.read().usable()) { }
 * @endcode
 */
class HULL_API Sensor {
public:
    /// What is called with each new reading.
    using Watcher = std::function<void(const Reading &)>;

    /// Lower and upper limit.
    using Limits = std::pair<double, double>;

    /**
     * Makes a sensor.
     *
     * @param[in] address on the bus, from 0
     * @param[in] quantity what it measures
     */
    Sensor(int address, Quantity quantity) : address_(address), quantity_(quantity) {}

    virtual ~Sensor() = default;

    /// Where it is on the bus.
    int address() const { return address_; }

    /// What it measures.
    Quantity quantity() const { return quantity_; }

    /**
     * Reads it once.
     *
     * @return a Reading of any Quality
     * @throws SensorLost if it does not answer
     */
    virtual Reading read();

    /**
     * Reads it many times.
     *
     * @param count how often
     * @param[out] into where the readings go
     */
    void read(int count, std::vector<Reading> &into);

    /**
     * Calls a function with each new reading until the sensor goes away.
     *
     * @param watcher what to call
     */
    void watch(Watcher watcher) { watcher_ = std::move(watcher); }

    /// Limits outside of which a value is suspect.
    Limits limits() const { return limits_; }

    /// Sets the limits. @see Sensor::limits()
    void set_limits(Limits limits) { limits_ = limits; }

    /// Takes what is measured now as zero. Only for Quantity::strain.
    void zero();

    // Whether the sensor has been calibrated this year.
    bool calibrated() const { return true; }

protected:
    /// Called by read() to talk to the device.
    virtual double measure() { return 0.0; }

private:
    int address_;
    Quantity quantity_;
    Limits limits_{0.0, 2000.0};
    Watcher watcher_;
};

/**
 * Averages several sensors.
 *
 * @tparam N how many
 */
template <int N>
class Averaged : public Sensor {
public:
    /// How many sensors are averaged.
    static constexpr int count = N;

    using Sensor::Sensor;

    /// The mean of all; suspect if one is. Overrides Sensor::read().
    Reading read() override;
};

HULL_CLOSE

#endif
