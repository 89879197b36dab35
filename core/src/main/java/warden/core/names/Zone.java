package warden.core.names;

import java.util.List;
import java.util.Optional;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** A zone of names and its records, whoever hosts it. */
public interface Zone {
    /** Returns the zone's identifier. */
    String id();

    /** Returns the zone's name without its final dot; absent when it was not read. */
    Optional<String> name();

    /** True when the zone answers only inside private networks. */
    boolean isPrivate();

    /** Returns the records. */
    Reading<List<HostRecord>> records();

    /** True when the survey has every page of the records, so that what is not among them does not exist. */
    boolean isComplete();

    /** Returns what keeps its records from being known as a whole: that they were not read, or not to their end. */
    Optional<Need> unlisted();

    /** Returns the name servers that serve the zone, in lower case; absent when the answer does not show them. */
    Optional<List<String>> nameServers();
}
