// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/component.h"

namespace wheelwright {

Component defaultGasoline() {
    return {"Gasoline",
            745,
            14.7,
            43.4,
            350,
            95,
            85,
            105,
            "AFR 14.7: trade convention (CH1.85 gives 14.57). Density, LHV, latent heat, molar mass: common "
            "practice, "
            "from memory. Octane 95/85: European premium pump grade"};
}

Component ethanol() {
    return {"Ethanol",
            789,
            9.00,
            26.9,
            918,
            108.6,
            89.7,
            46.07,
            "AFR and LHV: Heywood (1988) table D.4. Latent heat: NIST enthalpy of vaporisation. Octane: "
            "Anderson et "
            "al., SAE 2010-01-2137. From memory"};
}

Component methanol() {
    return {"Methanol",
            792,
            6.47,
            20.0,
            1168,
            108.7,
            88.6,
            32.04,
            "AFR and LHV: Heywood (1988) table D.4. Latent heat: NIST enthalpy of vaporisation. Octane: "
            "Anderson et "
            "al., SAE 2010-01-2137. From memory"};
}

} // namespace wheelwright
