package warden.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import warden.core.cloud.Clouds;
import warden.core.cloud.Following;
import warden.core.site.Site;
import warden.core.trace.Case;
import warden.core.trace.Outcome;
import warden.core.trace.Trace;
import warden.core.trace.Visit;
import warden.core.trace.WebAddress;
import warden.gather.visit.Observation;
import warden.gather.visit.Visitor;
import warden.report.TraceReport;
import warden.report.TraceReport.Observed;

/** Follows a visitor's request through name, edge and bucket, and says what they get and why. */
final class TraceCommand implements ProgramCommand {
    private static final List<String> TELLING = List.of("server", "via", "x-cache", "cache-control", "content-type");

    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private List<String> urls = new ArrayList<>();
    private boolean all;
    private @Nullable String site;
    private @Nullable Integer expect;
    private String method = "GET";
    private boolean observe;
    private List<String> resolve = new ArrayList<>();
    private @Nullable Path authority;

    private static final int MOST_SITES_TRIED = 20;

    private final World world;

    TraceCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe("Follow a visitor's request to its answer, and say why it comes out so.");
        options.declare(line);
        input.declare(line);
        line.arguments(
                "0..*",
                "URL",
                "The address that a visitor opens; several are followed one by one",
                value -> urls = value);
        line.flag(
                "--all",
                "Instead of a URL: the pages and direct ways in of every host, as a table",
                value -> all = value);
        line.text(
                "--site", "NAME", "With --all: only this site, by its name or one of its hosts", value -> site = value);
        line.number(
                "--expect",
                "STATUS",
                "End with exit code 1 when visitors get, or may get, another HTTP status than this",
                value -> expect = value);
        line.text("--method", "METHOD", "The request's method. Default: GET", value -> method = value);
        line.flag("--observe", "Send the real request too, without credentials, and compare", value -> observe = value);
        line.texts(
                "--resolve",
                "HOST:PORT:ADDRESS",
                "With --observe: ask there what is meant for HOST:PORT; another :PORT may follow; may repeat",
                value -> resolve = value);
        line.path(
                "--ca-file",
                "FILE",
                "With --observe: trust the certificate authority in this file (PEM) only",
                value -> authority = value);
    }

    @Override
    public Integer call() {
        if (all == !urls.isEmpty()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    all ? "--all stands instead of a URL; leave one out" : "name a URL, or use --all");
        }
        if (method.isEmpty() || method.length() > 20 || !method.chars().allMatch(TraceCommand::isLetter)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--method takes a word such as GET or PUT, not \"" + method + "\"");
        }
        if (expect != null && (expect < 100 || expect > 599)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "--expect takes an HTTP status such as 200, not " + expect);
        }
        options.keepFrom(input.files());
        Optional<Visitor> visitor = observe ? Optional.of(visitor()) : Optional.empty();
        List<WebAddress> addresses = urls.stream().map(TraceCommand::address).toList();
        Clouds clouds = input.clouds(world, options);
        input.sayAge(clouds.accounts(), world, options);
        Instant at = input.at(world.clock());
        // A table tells no remedies; and each is tried on a copy of the whole, which for many sites at once takes too
        // long.
        boolean tells = options.format() == OutputOptions.Format.json;
        boolean triesRemedies = !all || (tells && clouds.sites().size() <= MOST_SITES_TRIED);
        Following following = clouds.following(triesRemedies);
        return (all ? table(clouds, following, at, visitor) : follow(following, addresses, at, visitor)).number();
    }

    private static WebAddress address(String url) {
        WebAddress.Parsed parsed = WebAddress.parse(url);
        return parsed.address()
                .orElseThrow(() -> new InputException(
                        ExitCode.WRONG_COMMAND,
                        "\"" + warden.core.document.DisplayText.name(url) + "\" is no address of a web page: "
                                + parsed.problem()));
    }

    private Visitor visitor() {
        List<Visitor.Detour> detours = resolve.stream()
                .map(text -> Visitor.Detour.parse(text)
                        .orElseThrow(() -> new InputException(
                                ExitCode.WRONG_COMMAND, "--resolve takes HOST:PORT:ADDRESS, not \"" + text + "\"")))
                .toList();
        try {
            return new Visitor(detours, Optional.ofNullable(authority));
        } catch (IOException unusable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT,
                    authority + ": cannot be used as a certificate authority: " + unusable.getMessage());
        }
    }

    private ExitCode follow(Following following, List<WebAddress> addresses, Instant at, Optional<Visitor> visitor) {
        List<Trace> traces = new ArrayList<>();
        List<Optional<Observed>> observed = new ArrayList<>();
        for (WebAddress address : addresses) {
            Trace trace = following.trace(new Visit(address, method, at));
            traces.add(trace);
            observed.add(visitor.map(each -> compare(trace, address, each)));
        }
        List<String> shown = urls.stream().map(TraceCommand::withoutUser).toList();
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < traces.size(); i++) {
            text.append(TraceReport.text(shown.get(i), traces.get(i), observed.get(i), options.style(world)));
        }
        options.write(
                switch (options.format()) {
                    case json -> TraceReport.json(shown, traces, observed);
                    case text -> text.toString();
                });
        boolean differs = observed.stream()
                .anyMatch(seen -> seen.filter(Observed::differs).isPresent());
        return differs || !asExpected(traces) ? ExitCode.FOUND : ExitCode.DONE;
    }

    /** A password that was typed into an address is not shown again. */
    private static String withoutUser(String url) {
        return url.replaceFirst("^([A-Za-z]+://)[^/@]*@", "$1");
    }

    private ExitCode table(Clouds clouds, Following following, Instant at, Optional<Visitor> visitor) {
        Map<String, List<TraceReport.Row>> rows = new LinkedHashMap<>();
        List<String> shown = new ArrayList<>();
        List<Trace> traces = new ArrayList<>();
        List<Optional<Observed>> observed = new ArrayList<>();
        for (String host : hosts(clouds)) {
            boolean sealed = clouds.sites().stream()
                    .filter(each -> each.hosts().contains(host))
                    .allMatch(Site::isMeantSealed);
            for (Case each : following.cases(host)) {
                Trace trace = following.trace(new Visit(each.address(), method, at));
                boolean alarming = each.isAroundEdge() && sealed && trace.possibly(Outcome::isPage);
                rows.computeIfAbsent(host, key -> new ArrayList<>())
                        .add(new TraceReport.Row(each.what(), each.address().toString(), trace, alarming));
                shown.add(each.address().toString());
                traces.add(trace);
                observed.add(visitor.map(real -> compare(trace, each.address(), real)));
            }
        }
        if (traces.isEmpty()) {
            throw new InputException(ExitCode.WRONG_INPUT, "the survey shows no host to follow; give a URL");
        }
        StringBuilder text = new StringBuilder();
        rows.forEach(
                (host, each) -> text.append(host).append('\n').append(TraceReport.table(each, options.style(world))));
        options.write(
                switch (options.format()) {
                    case json -> TraceReport.json(shown, traces, observed);
                    case text -> text + "! marks a direct way in that should not exist.\n";
                });
        boolean differs = observed.stream()
                .anyMatch(seen -> seen.filter(Observed::differs).isPresent());
        return differs || !asExpected(traces) ? ExitCode.FOUND : ExitCode.DONE;
    }

    /** What is not certain to be the expected status is another outcome. */
    private boolean asExpected(List<Trace> traces) {
        if (expect == null) {
            return true;
        }
        boolean all = true;
        for (Trace trace : traces) {
            boolean is = (trace.isCertain() || !trace.open())
                    && trace.outcomes().stream()
                            .allMatch(outcome -> outcome.status().equals(OptionalInt.of(expect)));
            if (!is) {
                options.say(trace.address() + ": not " + expect + " for certain");
            }
            all &= is;
        }
        return all;
    }

    private Set<String> hosts(Clouds clouds) {
        Set<String> hosts = new LinkedHashSet<>();
        (site == null ? clouds.sites() : SiteNames.demand(clouds, site))
                .stream()
                        .flatMap(each -> each.hosts().stream())
                        .filter(host -> !host.startsWith("*"))
                        .forEach(hosts::add);
        return hosts;
    }

    /** What was predicted as one of several is no difference; what could be anything cannot differ. */
    private Observed compare(Trace trace, WebAddress address, Visitor visitor) {
        Observation seen = visitor.visit(address, method.toUpperCase(java.util.Locale.ROOT));
        Optional<String> location = seen.location().map(to -> absolute(address, to));
        boolean fits = trace.possibly(outcome -> outcome.status().equals(seen.status())
                && outcome.failure().equals(seen.failure())
                && (outcome.location().isEmpty() || outcome.location().equals(location)));
        Map<String, String> shown = new LinkedHashMap<>();
        TELLING.forEach(
                name -> Optional.ofNullable(seen.headers().get(name)).ifPresent(value -> shown.put(name, value)));
        seen.certificate().ifPresent(subject -> shown.put("certificate", subject));
        if (!seen.detail().isEmpty()) {
            shown.put("detail", seen.detail());
        }
        return new Observed(seen.status(), location, seen.failure().map(Outcome.Failure::word), !fits, shown);
    }

    private static boolean isLetter(int letter) {
        return (letter >= 'A' && letter <= 'Z') || (letter >= 'a' && letter <= 'z');
    }

    private static String absolute(WebAddress address, String location) {
        try {
            return java.net.URI.create(address.toString()).resolve(location).toString();
        } catch (IllegalArgumentException strange) {
            return location;
        }
    }
}
