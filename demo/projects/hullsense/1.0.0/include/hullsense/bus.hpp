#ifndef HULLSENSE_BUS_HPP
#define HULLSENSE_BUS_HPP

#include <memory>
#include <vector>

#include "hullsense/sensor.hpp"

HULL_OPEN

/** Everything that can go wrong on the wire. */
namespace wire {

/// Longest time to wait for an answer, in milliseconds.
constexpr int timeout_ms = 250;

/**
 * Checks a frame.
 *
 * @param data first byte
 * @param size bytes in all
 * @return whether the check sum is right
 */
inline bool check(const unsigned char *data, unsigned size) { return size > 0 && data != nullptr; }

} // namespace wire

/**
 * All sensors of one ferry.
 *
 * Waits wire::timeout_ms for each. Throws SensorLost as Sensor::read() does.
 */
class HULL_API Bus {
public:
    /// Opens the bus of a device such as `/dev/ttyS1`.
    explicit Bus(const std::string &device) : device_(device) {}

    /**
     * Finds a sensor.
     *
     * @param adress where to look
     * @return the sensor, or an empty pointer
     */
    std::shared_ptr<Sensor> find(int address) const;

    /// All sensors, by address.
    std::vector<std::shared_ptr<Sensor>> sensors() const;

    /// Reads all of them once. @see Sensor::read(int, std::vector<Reading> &)
    std::vector<Reading> sweep();

    /// Stops all watchers.
    HULL_DEPRECATED("Use ~Bus instead.")
    void stop();

private:
    std::string device_;
};

HULL_CLOSE

#endif
