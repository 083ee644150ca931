#pragma once
#include "core/job/job_schema.h"

#include <string>
#include <vector>

namespace wheelwright {

using ComponentOf = Component &(*)(Job &);

/// The numbers of a component of the fuel as fields of the job: "fuel.ethanol.density_kg_m3" and so on.
void addComponent(std::vector<Field> &fields, const std::string &path, const std::string &title,
                  ComponentOf of);

} // namespace wheelwright
