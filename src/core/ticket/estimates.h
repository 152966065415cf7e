// Estimates how large files become and how long scans take. Learns from those that were made, and starts from customary
// figures. A value, not thread-safe.
#pragma once

#include "core/raster/units.h"
#include "core/ticket/ticket.h"

#include <map>

namespace yelvin {

class Estimates {
  public:
    // Learns from a page that was encoded as the ticket says: its size in bytes and its number of pixels.
    void learn_page(const Ticket::Make& make, const std::string& ticket, Ink ink, double dpi, double bytes,
                    double pixels);
    // Learns from a pass over `mm` millimetres that took `seconds`.
    void learn_pass(const std::string& scanner, double dpi, Ink ink, double mm, double seconds);

    // Estimates the size of one page in bytes: from pages of this ticket or, if there were none, of any ticket,
    // otherwise from customary figures.
    double page_bytes(const Ticket::Make& make, const std::string& ticket, SizeMm size, double dpi, Ink ink) const;
    // Whether pages of this ticket were learnt from.
    bool learnt(const Ticket::Make& make, const std::string& ticket, Ink ink) const;
    double seconds_per_mm(const std::string& scanner, double dpi, Ink ink) const;
    static constexpr double seconds_per_pass = 1.5; // to start and to go back; common practice, no source

    nlohmann::json to_json() const;
    static Estimates from_json(const nlohmann::json& json);
    bool operator==(const Estimates&) const = default;

  private:
    // A figure that follows a power law of the resolution, known at `dpi`.
    struct Known {
        double value = 0, dpi = 300;
        int count = 0;
        bool operator==(const Known&) const = default;
    };
    std::map<std::string, Known> bytes_, seconds_;
};

}
