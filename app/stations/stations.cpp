#include "app/stations/stations.h"

#include "app/stations/make/make_station.h"
#include "app/stations/pose/pose_station.h"
#include "app/stations/shape/shape_station.h"

namespace ivrant::app {

std::vector<Station*> makeStations(Session& session, QWidget* parent) {
    return {new ShapeStation(session, parent), new PoseStation(session, parent), new MakeStation(session, parent)};
}

} // namespace ivrant::app
