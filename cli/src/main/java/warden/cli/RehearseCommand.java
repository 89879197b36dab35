package warden.cli;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import warden.core.Providers;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.aws.AwsAdapter;
import warden.core.aws.account.Account;
import warden.core.aws.catalogue.ServiceAction;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.policy.PolicyDocument;
import warden.core.aws.policy.PolicyKind;
import warden.core.aws.policy.PolicyParser;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.rehearse.BucketContents;
import warden.core.aws.rehearse.RehearsedPolicies;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.trim.MinimalPolicy;
import warden.core.aws.trim.Trimmed;
import warden.core.cloud.Cloud;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.document.JsonReader;
import warden.core.document.Pointer;
import warden.core.drift.Drift;
import warden.core.drift.DriftFinder;
import warden.core.rehearse.Rehearsal;
import warden.core.rehearse.StorageChanges;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyWriter;
import warden.gather.survey.SurveyFiles;
import warden.report.RehearsalJson;
import warden.report.RehearsalText;
import warden.standin.Faults;
import warden.standin.LoopbackProxy;
import warden.standin.aws.StandIn;

/** Runs a deployment against a simulated copy of the account, with the credentials of one of its principals. */
final class RehearseCommand implements ProgramCommand {
    private static final String SESSION = "rehearsal";
    private static final String USUAL_REGION = "us-east-1";

    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private String as = "";
    private List<Path> policies = new ArrayList<>();
    private @Nullable Path record;
    private boolean keepGoing;
    private Set<String> letThrough = Set.of();
    private @Nullable String address;
    private @Nullable Path objects;
    private List<String> command = new ArrayList<>();
    private final World world;

    RehearseCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Run a deployment, unchanged, against a simulated copy of the surveyed account, as one of its users or roles, and tell which permissions"
                        + " it needs, which are refused, and what it would change.",
                "Nothing reaches the real account: clients are led to the simulated one, with credentials that only it knows, and every other host is"
                        + " refused.");
        options.declare(line);
        input.declare(line);
        line.neededText("--as", "ARN|NAME", "The user or role whose credentials the command gets", value -> as = value);
        line.paths(
                "--with-policy",
                "FILE",
                "Rehearse with this identity policy instead of those that it holds; boundary and organization policies stay; may repeat",
                value -> policies = value);
        line.path(
                "--record",
                "FILE",
                "Write each call there, as JSON Lines, for trim --rehearsal",
                value -> record = value);
        line.flag(
                "--keep-going", "Refuse nothing, and record what would have been refused", value -> keepGoing = value);
        line.texts(
                "--let-through",
                "HOST",
                "Let the command reach this host as it is, such as a registry of packages; may repeat",
                value -> letThrough = new LinkedHashSet<>(value));
        line.text(
                "--address",
                "IP",
                "From where calls are taken to come, for policies that ask. Default: 127.0.0.1, from where they do",
                value -> address = value);
        line.path(
                "--objects",
                "DIR",
                "What objects hold: DIR/BUCKET/KEY. Default: text made up to their sizes",
                value -> objects = value);
        line.arguments("1..*", "COMMAND", "The command and its words, behind --", value -> command = value);
    }

    @Override
    public Integer call() throws Exception {
        List<String> inputs = new ArrayList<>(input.files());
        policies.forEach(file -> inputs.add(file.toString()));
        options.keepFrom(inputs);
        if (record != null) {
            Outputs outputs = new Outputs().and("--record", record);
            Optional.ofNullable(options.output()).ifPresent(file -> outputs.and("--output", file));
            outputs.keepFrom(inputs);
        }
        Clouds clouds = input.clouds(world, options);
        input.sayAge(clouds.accounts(), world, options);
        PublishingPrincipal who = CredentialNames.demand(cloud(clouds), as, "--as");
        Survey rehearsed = rehearsed(who);
        String survey = SurveyWriter.text(rehearsed.header(), rehearsed.lines());
        Path folder = StandInCommand.passingFolder();
        try (RehearsalLog log = new RehearsalLog(who.arn(), record, options::json);
                StandIn standIn = standIn(survey, who, folder, log)) {
            int secure = standIn.startTls(folder, 0);
            Set<String> through = letThrough.stream()
                    .map(host -> host.toLowerCase(Locale.ROOT))
                    .collect(Collectors.toSet());
            try (LoopbackProxy proxy =
                    new LoopbackProxy(standIn::answersAt, through::contains, secure, standIn.port())) {
                log.header(
                        world.clock().instant().toString(),
                        who.account().survey().header().file(),
                        command);
                OptionalInt ended = run(standIn, who, proxy.port(), folder);
                log.ended(ended);
                Rehearsal rehearsal = rehearsal(clouds, who, standIn, proxy, log, ended);
                options.writeBeside(
                        switch (options.format()) {
                            case json -> RehearsalJson.of(rehearsal);
                            case text -> RehearsalText.of(rehearsal, options.styleOfScreen(world));
                        });
                return code(rehearsal).number();
            }
        }
    }

    private static ExitCode code(Rehearsal rehearsal) {
        if (rehearsal.isRefused()) {
            return ExitCode.FOUND;
        }
        boolean hasFailed = rehearsal.ended().isEmpty() || rehearsal.ended().getAsInt() != 0;
        return hasFailed ? ExitCode.COMMAND_FAILED : ExitCode.DONE;
    }

    private static AwsCloud cloud(Clouds clouds) {
        for (Cloud cloud : clouds.all()) {
            if (cloud instanceof AwsAdapter aws) {
                return aws.cloud();
            }
        }
        throw new InputException(
                ExitCode.WRONG_INPUT, "none of the surveys is of an account that can be rehearsed; give one of AWS");
    }

    /** Returns the survey of the account that is simulated. */
    private Survey rehearsed(PublishingPrincipal who) {
        Survey survey = who.account().survey();
        if (policies.isEmpty()) {
            return survey;
        }
        List<String> documents = new ArrayList<>();
        for (Path file : policies) {
            String text;
            try {
                text = Files.readString(file);
            } catch (IOException unreadable) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        "--with-policy: " + file + " cannot be read (" + TargetFile.why(unreadable) + ")");
            }
            PolicyDocument policy = PolicyParser.parse(text, PolicyKind.IDENTITY, Pointer.ROOT);
            if (JsonReader.read(text).root().isEmpty() || policy.isPartlyOpaque()) {
                throw new InputException(
                        ExitCode.WRONG_INPUT,
                        "--with-policy: " + file + " is not an identity policy that can be weighed; correct it first");
            }
            documents.add(text);
        }
        return RehearsedPolicies.replaced(survey, who.principal(), documents)
                .orElseThrow(() -> new InputException(
                        ExitCode.WRONG_INPUT, "--with-policy: the survey does not describe " + who.arn()));
    }

    private StandIn standIn(String survey, PublishingPrincipal who, Path folder, RehearsalLog log) throws IOException {
        try {
            return StandIn.start(
                    survey,
                    who.account().survey().header().file(),
                    StandInCommand.contents(objects),
                    new StandIn.Settings(
                            Faults.none(), Optional.of(folder), Optional.ofNullable(address), keepGoing, log::call),
                    0,
                    world.clock());
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Runs the command to its end, and ends what it leaves behind. */
    private OptionalInt run(StandIn standIn, PublishingPrincipal who, int proxyPort, Path folder)
            throws IOException, InterruptedException {
        StandIn.Credentials credentials = standIn.credentials(who.arn(), SESSION)
                .orElseThrow(() -> new InputException(
                        ExitCode.WRONG_INPUT, "--as: the survey does not describe " + DisplayText.name(as)));
        Map<String, String> environment = RehearsalEnvironment.of(
                System.getenv(),
                standIn,
                credentials,
                region(who.account()),
                proxyPort,
                standIn.authority().orElseThrow(),
                !letThrough.isEmpty(),
                folder);
        CommandGroup group = CommandGroup.start(command, environment);
        Thread interruption = new Thread(group::interrupt);
        Runtime.getRuntime().addShutdownHook(interruption);
        int code = group.await();
        Runtime.getRuntime().removeShutdownHook(interruption);
        group.endRest();
        return CommandGroup.isSignal(code) ? OptionalInt.empty() : OptionalInt.of(code);
    }

    /** Where most of the account's buckets are. */
    private static String region(Account account) {
        Map<String, Long> counts = new TreeMap<>(account.buckets().stream()
                .flatMap(bucket -> bucket.region().found().stream())
                .collect(Collectors.groupingBy(region -> region, Collectors.counting())));
        return counts.entrySet().stream()
                .max(Map.Entry.<String, Long>comparingByValue()
                        .thenComparing(Map.Entry.comparingByKey(Comparator.reverseOrder())))
                .map(Map.Entry::getKey)
                .orElse(USUAL_REGION);
    }

    private Rehearsal rehearsal(
            Clouds before,
            PublishingPrincipal who,
            StandIn standIn,
            LoopbackProxy proxy,
            RehearsalLog log,
            OptionalInt ended) {
        Account account = who.account();
        Survey left = parsed(standIn.state(), account.survey().header().file());
        List<Survey> surveys = before.accounts().stream()
                .map(each -> each == account ? left : each.survey())
                .toList();
        Instant at = input.at(world.clock());
        Clouds after = Providers.open(surveys, before.file(), Optional.of(at));
        AwsCloud cloud = cloud(after);
        Map<String, Map<String, StorageChanges.Stored>> held = BucketContents.of(new Account(left));
        StorageChanges changes = StorageChanges.between(BucketContents.of(account), held);
        Drift drift = DriftFinder.between(followed(before, at), followed(after, at));
        Trimmed trimmed = trimmed(before, who, log);
        return new Rehearsal(
                who.arn(),
                command,
                ended,
                keepGoing,
                log.uses(),
                log.uses().missing().isEmpty()
                        ? ""
                        : MinimalPolicy.of(log.uses().missing()).spelled(),
                trimmed.excess().all().stream()
                        .map(ServiceAction::name)
                        .sorted()
                        .toList(),
                trimmed.worst().stream()
                        .map(worst -> worst.action() + " on " + worst.on() + ": " + worst.why())
                        .toList(),
                changes,
                changes.notable(BucketContents.indexes(cloud), held),
                drift.visits(),
                drift.incomparable().stream().map(Need::of).distinct().toList(),
                standIn.invalidated(),
                BucketContents.stale(cloud, changes, standIn.invalidated()),
                proxy.refused(),
                log.late());
    }

    private static Survey parsed(String text, String file) {
        try {
            return SurveyFiles.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), file);
        } catch (SurveyException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** No check is asked: only what visitors get is compared. */
    private static Audit followed(Clouds clouds, Instant at) {
        return Audit.of(new AuditContext(clouds, at, List.of(), Optional.empty()), List.of(), card -> false);
    }

    private static Trimmed trimmed(Clouds clouds, PublishingPrincipal who, RehearsalLog log) {
        AwsCloud cloud = cloud(clouds);
        List<PublishingPrincipal> publishers = new ArrayList<>(new PublisherFinder(cloud).find());
        PublishingPrincipal same = publishers.stream()
                .filter(publisher -> publisher.arn().equals(who.arn()))
                .findFirst()
                .orElse(who);
        if (same == who) {
            publishers.add(who);
        }
        return Trimmed.of(
                same,
                new Deployments(cloud, publishers, List.of()),
                new EffectivePermissions(cloud.reach(same.account()), same.principal()),
                log.uses().needed(),
                true);
    }
}
