package warden.core;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.Aws;
import warden.core.azure.Azure;
import warden.core.cloud.Cloud;
import warden.core.cloud.Clouds;
import warden.core.mend.Mender;
import warden.core.names.Zone;
import warden.core.provider.Provider;
import warden.core.site.SiteFile;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** The providers that the program knows. This is the one list of them. */
public final class Providers {
    public static final List<Provider> ALL = List.of(new Aws(), new Azure());

    private Providers() {}

    /** Returns the provider that a header names; absent for a word that names none. */
    public static Optional<Provider> named(String name) {
        return ALL.stream().filter(provider -> provider.name().equals(name)).findFirst();
    }

    /** Returns what says what to change about findings of a cloud. */
    public static Mender menderOf(Cloud cloud) {
        return named(cloud.accounts().get(0).survey().header().provider())
                .orElseThrow()
                .mender();
    }

    /**
     * Finds the sites of all surveyed accounts.
     *
     * @param surveys at least one, each of a provider that is known
     * @param at the instant as of which requests are taken to be sent; absent when nothing tells
     */
    public static Clouds open(List<Survey> surveys, SiteFile file, Optional<Instant> at) {
        return open(ALL, surveys, file, at);
    }

    /** As above, with other providers than the program's own. */
    static Clouds open(List<Provider> providers, List<Survey> surveys, SiteFile file, Optional<Instant> at) {
        Map<Provider, List<SurveyedAccount>> accounts = new LinkedHashMap<>();
        Map<Provider, List<Zone>> zones = new LinkedHashMap<>();
        for (Provider provider : providers) {
            List<SurveyedAccount> own = new ArrayList<>();
            surveys.stream()
                    .filter(survey -> survey.header().provider().equals(provider.name()))
                    .forEach(survey -> own.add(provider.account(survey)));
            if (!own.isEmpty()) {
                accounts.put(provider, own);
                zones.put(
                        provider,
                        own.stream()
                                .<Zone>flatMap(account -> provider.zones(account).stream())
                                .toList());
            }
        }
        List<Cloud> clouds = new ArrayList<>();
        accounts.forEach((provider, own) -> {
            List<Zone> others = zones.entrySet().stream()
                    .filter(entry -> entry.getKey() != provider)
                    .flatMap(entry -> entry.getValue().stream())
                    .toList();
            clouds.add(provider.open(own, others, file, at));
        });
        return new Clouds(clouds, file);
    }
}
