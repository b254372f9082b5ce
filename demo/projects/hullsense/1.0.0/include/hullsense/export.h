#ifndef HULLSENSE_EXPORT_H
#define HULLSENSE_EXPORT_H

#if defined(_WIN32)
#  define HULL_API __declspec(dllexport)
#else
#  define HULL_API __attribute__((visibility("default")))
#endif
#define HULL_DEPRECATED(text) __attribute__((deprecated(text)))
#define HULL_OPEN namespace hullsense {
#define HULL_CLOSE }

#endif
