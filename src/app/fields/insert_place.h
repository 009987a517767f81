#pragma once

#include "app/fields/field_place.h"

namespace retinex::app {

/// The chosen insert or backdrop. Laid in another way it stays where it was seen: its corners are those that
/// it had, and upright it has their middle, width and turn.
class InsertPlace : public ShotPlace
{
public:
    InsertPlace(Document& document, const std::function<std::string()>& chosen)
        : ShotPlace(document, "inserts", chosen)
    {
    }
    void setNumber(const QString& what, const std::string& key, double value, int gesture) override;
};

} // namespace retinex::app
