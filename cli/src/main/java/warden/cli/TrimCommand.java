package warden.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.aws.AwsAdapter;
import warden.core.aws.account.Account;
import warden.core.aws.permission.EffectivePermissions;
import warden.core.aws.publishing.Deployments;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.aws.rehearse.BucketContents;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.aws.survey.AwsAspects;
import warden.core.aws.trim.Trimmed;
import warden.core.aws.trim.UnsurveyedPublisher;
import warden.core.cloud.Cloud;
import warden.core.cloud.Clouds;
import warden.core.document.DisplayText;
import warden.core.pipeline.Pipeline;
import warden.core.site.Site;
import warden.core.site.SiteFile;
import warden.core.survey.Need;
import warden.core.survey.Survey;
import warden.core.survey.SurveyHeader;
import warden.core.trim.Activity;
import warden.core.trim.Trimming;
import warden.gather.aws.activity.ActivityReader;
import warden.gather.pipeline.PipelineVariables;
import warden.gather.rehearsal.RehearsalReader;
import warden.report.TrimJson;
import warden.report.TrimText;

/** Says what publishing credentials need and what they may do, and proposes the policy that would do. */
final class TrimCommand implements ProgramCommand {
    private final OutputOptions options = new OutputOptions();
    private final SurveyOptions input = new SurveyOptions();
    private final NeedOptions needs = new NeedOptions();
    private @Nullable String credential;
    private @Nullable String site;
    private List<String> activity = new ArrayList<>();
    private final QueryOptions query = new QueryOptions();
    private List<String> rehearsals = new ArrayList<>();
    private @Nullable Path policyOut;
    private final World world;

    TrimCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe(
                "Compare what publishing credentials need with what they may do, and write the policy that would do.");
        options.declare(line);
        input.declare(line);
        needs.declare(line);
        line.text("--credential", "ARN|NAME", "Only this user or role", value -> credential = value);
        line.text("--site", "NAME", "Only the credentials that publish this site", value -> site = value);
        line.texts(
                "--activity",
                "FILE",
                "Log file of the account's activity, result of the query that --activity-query prints, or a folder of them; .gz is understood; may repeat",
                value -> activity = value);
        query.declare(line);
        line.texts(
                "--rehearsal",
                "FILE",
                "Record of a rehearsal, which shows what a deployment needs; may repeat",
                value -> rehearsals = value);
        line.path("--policy-out", "DIR", "Write each proposed policy there, as a file", value -> policyOut = value);
    }

    @Override
    public Integer call() {
        if (query.isAsked()) {
            options.write(query.text(input.at(world.clock())));
            return ExitCode.DONE.number();
        }
        List<Trimming> trimmed = new ArrayList<>();
        List<Need> unread;
        List<String> inputs = new ArrayList<>(input.files());
        inputs.addAll(needs.pipelines());
        inputs.addAll(activity);
        inputs.addAll(rehearsals);
        options.keepFrom(inputs);
        boolean hasSurvey = needs.pipelines().isEmpty() || input.hasSurvey();
        try (Stages stages = options.stages(world.isTerminal())) {
            PipelineVariables variables = needs.variables();
            if (hasSurvey) {
                Clouds clouds = input.clouds(world, options);
                input.sayAge(clouds.accounts(), world, options);
                List<Pipeline> known = PipelineFiles.read(needs.pipelines(), clouds, variables);
                unread = credential == null ? clouds.unreadPrincipals() : List.of();
                List<Site> sites = site == null ? List.of() : SiteNames.demand(clouds, site);
                for (Cloud cloud : clouds.all()) {
                    if (cloud instanceof AwsAdapter aws) {
                        trimmed.addAll(
                                trimmed(aws.cloud(), known, stages, clouds.all().size() > 1));
                    } else {
                        trimmed.addAll(cloud.trim(known, Optional.ofNullable(credential), sites));
                    }
                }
                demandSome(clouds, trimmed);
            } else {
                options.say(
                        "gentle-warden: no survey: the policy is what the pipeline needs; what its credential may do"
                                + " today is not compared.");
                List<Pipeline> known = PipelineFiles.read(needs.pipelines(), variables);
                trimmed.addAll(trimmed(withoutSurvey(known), known, stages, false));
                unread = List.of();
            }
        }
        if (policyOut != null) {
            write(trimmed, policyOut);
        }
        options.write(
                switch (options.format()) {
                    case json -> {
                        options.sayUnread(unread);
                        yield TrimJson.of(trimmed);
                    }
                    case text -> TrimText.of(trimmed, unread, options.style(world));
                });
        return ExitCode.DONE.number();
    }

    /** With several providers each is asked for the credential, and one has to know it. */
    private void demandSome(Clouds clouds, List<Trimming> trimmed) {
        boolean isAws = clouds.all().size() == 1 && clouds.all().get(0) instanceof AwsAdapter;
        if (trimmed.isEmpty() && !isAws && (credential != null || site != null)) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    credential != null
                            ? "--credential: the surveys describe no credential " + DisplayText.name(credential)
                            : "--site: no surveyed credential publishes the site \""
                                    + DisplayText.name(String.valueOf(site)) + "\"; name one with --credential");
        }
    }

    /** What a pipeline needs can be told without an account: the buckets and distributions are those that it names. */
    private AwsCloud withoutSurvey(List<Pipeline> known) {
        String number = UnsurveyedPublisher.accountOf(known).orElse(NeededPermissions.NO_ACCOUNT);
        SurveyHeader header = new SurveyHeader("(no survey)", "aws", number, "", "");
        return new AwsCloud(
                List.of(new Account(new Survey.Collector(AwsAspects.TABLE).toSurvey(header))),
                SiteFile.empty(),
                Optional.of(input.at(world.clock())));
    }

    private List<Trimmed> trimmed(AwsCloud cloud, List<Pipeline> known, Stages stages, boolean isOneOfSeveral) {
        List<PublishingPrincipal> found = new PublisherFinder(cloud).find();
        Deployments first = new Deployments(cloud, found, known);
        List<UnsurveyedPublisher> unsurveyed = UnsurveyedPublisher.in(cloud, first).stream()
                .filter(this::isWanted)
                .filter(each -> each.steps().stream().anyMatch(of -> isAskedFor(of.pipeline())))
                .toList();
        List<PublishingPrincipal> wanted =
                unsurveyed.isEmpty() || credential == null ? wanted(cloud, found, isOneOfSeveral) : List.of();
        List<PublishingPrincipal> all = new ArrayList<>(found);
        wanted.stream()
                .filter(publisher ->
                        found.stream().noneMatch(other -> other.arn().equals(publisher.arn())))
                .forEach(all::add);
        Deployments deployments = new Deployments(cloud, all, known);
        stages.at("summing the account's log up");
        Activity used = used();
        List<RehearsalReader.Record> rehearsed = rehearsed();
        stages.at("comparing what is needed with what is allowed", wanted.size() + unsurveyed.size());
        List<Trimmed> trimmed = new ArrayList<>(wanted.parallelStream()
                .map(publisher -> {
                    List<RehearsalReader.Record> own = rehearsed.stream()
                            .filter(record -> record.as().equals(publisher.arn()))
                            .toList();
                    Trimmed one = Trimmed.of(
                            publisher,
                            deployments,
                            permissions(cloud, publisher),
                            Stream.concat(
                                            own.stream().flatMap(record -> record.uses().needed().stream()),
                                            used.usedBy(publisher.arn()).stream())
                                    .toList(),
                            !own.isEmpty() && own.stream().allMatch(RehearsalReader.Record::isWhole));
                    stages.step();
                    return one;
                })
                .toList());
        for (UnsurveyedPublisher each : unsurveyed) {
            PublishingPrincipal publisher = each.publisher();
            trimmed.add(Trimmed.of(each, deployments, permissions(cloud, publisher), used.usedBy(publisher.arn())));
            stages.step();
        }
        return trimmed;
    }

    private static EffectivePermissions permissions(AwsCloud cloud, PublishingPrincipal publisher) {
        return new EffectivePermissions(cloud.reach(publisher.account()), publisher.principal());
    }

    private boolean isWanted(UnsurveyedPublisher unsurveyed) {
        return site == null
                && (credential == null
                        || credential.equals(unsurveyed.called())
                        || credential.equals(unsurveyed.publisher().principal().name()));
    }

    /** Where pipelines are named, those of the survey are not meant. */
    private boolean isAskedFor(Pipeline pipeline) {
        return needs.pipelines().isEmpty() || needs.pipelines().contains(pipeline.subject());
    }

    private List<PublishingPrincipal> wanted(AwsCloud cloud, List<PublishingPrincipal> found, boolean isOneOfSeveral) {
        if (isOneOfSeveral && credential != null && !credential.startsWith("arn:")) {
            return found.stream()
                    .filter(publisher -> publisher.principal().name().equals(credential))
                    .toList();
        }
        if (isOneOfSeveral && site != null) {
            return found.stream()
                    .filter(publisher -> publisher.sites().stream()
                            .anyMatch(each -> each.name().equals(site)))
                    .toList();
        }
        if (credential != null) {
            PublishingPrincipal named = CredentialNames.demand(cloud, credential);
            return List.of(found.stream()
                    .filter(publisher -> publisher.arn().equals(named.arn()))
                    .findFirst()
                    .orElse(named));
        }
        if (site == null) {
            return found;
        }
        List<Site> sites = SiteNames.demand(new Clouds(List.of(new AwsAdapter(cloud)), cloud.file()), site);
        List<PublishingPrincipal> wanted = found.stream()
                .filter(publisher -> publisher.sites().stream().anyMatch(sites::contains))
                .toList();
        if (wanted.isEmpty()) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--site: no surveyed credential publishes the site \"" + site
                            + "\"; name one with --credential ARN");
        }
        return wanted;
    }

    private List<RehearsalReader.Record> rehearsed() {
        List<RehearsalReader.Record> records = new ArrayList<>();
        for (String file : rehearsals) {
            try {
                RehearsalReader.Record record = RehearsalReader.read(file, BucketContents::bucketOf);
                records.add(record);
                if (!record.isWhole()) {
                    options.say(DisplayText.name(file) + ": "
                            + (record.hasEnd()
                                    ? "some of what the deployment asked is not simulated"
                                    : "the rehearsal was interrupted")
                            + ", so that more may be needed than it shows.");
                }
            } catch (IOException unusable) {
                throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
            }
        }
        return records;
    }

    private Activity used() {
        if (activity.isEmpty()) {
            return Activity.none();
        }
        try {
            Activity used = ActivityReader.read(activity);
            used.problems().forEach(options::say);
            options.say(used.events() + " events of the log read, " + used.refused() + " of them refused.");
            return used;
        } catch (IOException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        }
    }

    /** Writes a file for each policy, whole or not at all. */
    private void write(List<Trimming> trimmed, Path folder) {
        try {
            Files.createDirectories(folder);
        } catch (IOException failed) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    folder + ": cannot be made a folder (" + failed.getMessage() + "); name another with --policy-out");
        }
        Set<String> used = new HashSet<>();
        for (Trimming each : trimmed) {
            if (each.needed().isEmpty()) {
                options.say(each.called() + ": nothing tells what it needs, so no policy is written for it.");
                continue;
            }
            // A user and a role may bear the same name.
            String plain = each.name().replaceAll("[^A-Za-z0-9._@+=-]", "_");
            String name = plain;
            for (int i = 2; !used.add(name); i++) {
                name = plain + "-" + i;
            }
            Path trust = folder.resolve(name + ".trust.json");
            TargetFile.write(
                    folder.resolve(name + ".policy.json"), options.json(each.proposalSpelled()), "--policy-out");
            each.proposedTrust()
                    .ifPresent(proposed -> TargetFile.write(trust, options.json(proposed.spelled()), "--policy-out"));
        }
    }
}
