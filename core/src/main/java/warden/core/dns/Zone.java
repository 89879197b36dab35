package warden.core.dns;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** One hosted zone and its records. */
public final class Zone {
    private final Survey survey;
    private final String id;

    public Zone(Survey survey, String id) {
        this.survey = survey;
        this.id = id;
    }

    /** Returns the zone's identifier, {@code hostedzone/ID}. */
    public String id() {
        return id;
    }

    /** Returns the zone's name without its final dot; absent when the zone itself was not read. */
    public Optional<String> name() {
        return survey.reading("zone", id)
                .found()
                .flatMap(answer -> answer.text("HostedZone", "Name"))
                .map(HostRecord::canonical);
    }

    /** True when the zone answers only inside private networks. */
    public boolean isPrivate() {
        return survey.reading("zone", id)
                .found()
                .flatMap(answer -> answer.flag("HostedZone", "Config", "PrivateZone"))
                .orElse(false);
    }

    /** Returns the records. */
    public Reading<List<HostRecord>> records() {
        return survey.listing("zone-records", id).map(listing -> {
            List<HostRecord> records = new ArrayList<>();
            for (Reading.Found<JsonPart> page : listing.pages()) {
                for (JsonPart set : page.value().list("ResourceRecordSets")) {
                    records.add(new HostRecord(
                            id,
                            HostRecord.canonical(set.text("Name").orElse("")),
                            set.text("Type").orElse(""),
                            set.text("AliasTarget", "DNSName").map(HostRecord::canonical),
                            set.list("ResourceRecords").stream()
                                    .flatMap(value -> value.text("Value").stream())
                                    .toList(),
                            page.at().at(set.at().toString(), JsonSpelling.of(set))));
                }
            }
            return records;
        });
    }

    /** True when the survey has every page of the records, so that what is not among them does not exist. */
    public boolean isComplete() {
        return survey.listing("zone-records", id)
                .found()
                .map(Survey.Listing::complete)
                .orElse(false);
    }
}
