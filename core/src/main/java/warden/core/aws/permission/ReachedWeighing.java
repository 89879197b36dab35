package warden.core.aws.permission;

import warden.core.access.Truth;
import warden.core.aws.decision.Weighing;

/** The algebra of what is surely and what is perhaps within reach, for the weighings that count in it. */
abstract class ReachedWeighing implements Weighing<Reached> {
    @Override
    public Reached of(Truth truth) {
        return Reached.of(truth);
    }

    @Override
    public Reached union(Reached one, Reached other) {
        return one.union(other);
    }

    @Override
    public Reached intersect(Reached one, Reached other) {
        return one.intersect(other);
    }

    @Override
    public Reached minus(Reached whole, Reached taken) {
        return whole.minus(taken);
    }

    @Override
    public boolean isNone(Reached value) {
        return value.possible().isEmpty();
    }

    @Override
    public Reached underDenyingOrganization() {
        return Reached.UNKNOWN;
    }
}
