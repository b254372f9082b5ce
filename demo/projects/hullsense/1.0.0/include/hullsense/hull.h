/**
 * @file
 * Hull sensors for programs in C.
 *
 * Open with hull_open(), read with hull_read(), and give back with hull_close().
 */
#ifndef HULLSENSE_HULL_H
#define HULLSENSE_HULL_H

#include "hullsense/export.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Most sensors on one bus. */
#define HULL_MAX_SENSORS 64

/**
 * Whether an address can be one.
 *
 * @param a the address
 */
#define HULL_VALID(a) ((a) >= 0 && (a) < HULL_MAX_SENSORS)

/** An open bus. */
typedef struct hull_bus hull_bus;

/** What came of a call. */
typedef enum hull_status {
    HULL_OK = 0,     /**< All is well. */
    HULL_LOST = 1,   /**< The sensor did not answer. */
    HULL_BAD = 2     /**< The address is none; see HULL_VALID(). */
} hull_status;

/** One value. */
typedef struct {
    double value;      /**< In the unit of the sensor. */
    long long at_ms;   /**< Milliseconds since 1970. */
    int quality;       /**< 0 for good. */
} hull_reading;

/** What hull_watch() calls. */
typedef void (*hull_watcher)(const hull_reading *reading, void *user);

/**
 * Opens a bus.
 *
 * @param device such as /dev/ttyS1
 * @return the bus, or NULL
 */
HULL_API hull_bus *hull_open(const char *device);

/**
 * Reads a sensor.
 *
 * @param bus what hull_open() gave
 * @param address the sensor; HULL_VALID() says which can be
 * @param[out] reading where the value goes
 * @return HULL_OK, or why not
 */
HULL_API hull_status hull_read(hull_bus *bus, int address, hull_reading *reading);

/** Calls a function with each reading. */
HULL_API hull_status hull_watch(hull_bus *bus, int address, hull_watcher watcher, void *user);

/** Gives a bus back. */
HULL_API void hull_close(hull_bus *bus);

#ifdef __cplusplus
}
#endif

#endif
