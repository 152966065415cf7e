// How large files become and how long scans take, learnt from those that were made. A value; starts from customary
// figures.
#pragma once

#include "core/raster/units.h"
#include "core/ticket/ticket.h"

#include <map>

namespace yelvin {

class Estimates {
  public:
    // A page that was encoded as the ticket says: its bytes and pixels, at this resolution and ink.
    void learn_page(const Ticket::Make& make, const std::string& ticket, Ink ink, double dpi, double bytes,
                    double pixels);
    // A pass that took so long for so many mm of travel.
    void learn_pass(const std::string& scanner, double dpi, Ink ink, double mm, double seconds);

    // Of one page, with this ticket's own pages first, then any; customary figures where nothing is known.
    double page_bytes(const Ticket::Make& make, const std::string& ticket, SizeMm size, double dpi, Ink ink) const;
    bool learnt(const Ticket::Make& make, const std::string& ticket, Ink ink) const;
    double seconds_per_mm(const std::string& scanner, double dpi, Ink ink) const;
    static constexpr double seconds_per_pass = 1.5; // to start and to go back; common practice, no source

    nlohmann::json to_json() const;
    static Estimates from_json(const nlohmann::json& json);
    bool operator==(const Estimates&) const = default;

  private:
    // bytes a pixel as a power law of the resolution, known at `dpi`.
    struct Known {
        double value = 0, dpi = 300;
        int count = 0;
        bool operator==(const Known&) const = default;
    };
    std::map<std::string, Known> bytes_, seconds_;
};

}
