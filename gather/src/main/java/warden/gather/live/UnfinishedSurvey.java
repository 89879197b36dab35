package warden.gather.live;

import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.Providers;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.core.survey.SurveyReader;
import warden.gather.survey.WholeFile;

/**
 * What an interrupted survey has already.
 *
 * @param account the account's number
 * @param hosts the only hosts that it follows; empty for a whole account
 * @param known what need not be asked again, as aspect, space and subject: all but what was refused
 */
public record UnfinishedSurvey(String account, List<String> hosts, Set<String> known) {
    public UnfinishedSurvey {
        hosts = List.copyOf(hosts);
        known = Set.copyOf(known);
    }

    /**
     * Makes a file ready to be appended to. A survey that was killed may end in half a line or in half a listing; both are cut off, since
     * they are asked again.
     *
     * @throws SurveyException when the file is no survey, or broken elsewhere than at its end
     */
    public static UnfinishedSurvey reopen(Path file) throws IOException, SurveyException {
        cut(file, endOfLines(Files.readAllBytes(file)));
        List<SurveyLine> lines = new ArrayList<>();
        SurveyHeader header;
        try (InputStream in = Files.newInputStream(file)) {
            header = SurveyReader.read(in, file.toString(), lines::add);
        }
        dropHalfListing(file, lines, header.provider());
        Set<String> known = new HashSet<>();
        for (SurveyLine line : lines) {
            String key = key(line);
            if (line.outcome() == Outcome.UNREAD) {
                known.remove(key);
            } else {
                known.add(key);
            }
        }
        dropUnread(file, lines, known);
        return new UnfinishedSurvey(header.account(), header.hosts(), known);
    }

    /** Takes out what was refused: it is asked again, and a list that is granted now leaves no line to stand in the refused one's place. */
    private static void dropUnread(Path file, List<SurveyLine> lines, Set<String> known) throws IOException {
        Set<Integer> dropped = lines.stream()
                .filter(line -> !known.contains(key(line)))
                .map(SurveyLine::line)
                .collect(Collectors.toSet());
        if (dropped.isEmpty()) {
            return;
        }
        List<String> all = Files.readAllLines(file);
        StringBuilder kept = new StringBuilder();
        for (int i = 0; i < all.size(); i++) {
            if (!dropped.contains(i + 1)) {
                kept.append(all.get(i)).append('\n');
            }
        }
        WholeFile.replace(WholeFile.followed(file), kept.toString().getBytes(StandardCharsets.UTF_8));
    }

    static String key(SurveyLine line) {
        return line.aspect() + " " + line.of();
    }

    private static int endOfLines(byte[] bytes) {
        int end = bytes.length;
        while (end > 0 && bytes[end - 1] != '\n') {
            end--;
        }
        return end;
    }

    private static void dropHalfListing(Path file, List<SurveyLine> lines, String provider) throws IOException {
        boolean isHalf = !lines.isEmpty()
                && Providers.named(provider)
                        .filter(known -> known.aspects().saysMoreFollows(lines.get(lines.size() - 1)))
                        .isPresent();
        if (!isHalf) {
            return;
        }
        String listing = key(lines.get(lines.size() - 1));
        while (!lines.isEmpty() && key(lines.get(lines.size() - 1)).equals(listing)) {
            int number = lines.remove(lines.size() - 1).line();
            cut(file, startOf(number, Files.readAllBytes(file)));
        }
    }

    private static int startOf(int line, byte[] bytes) {
        int at = 0;
        for (int passed = 1; passed < line; at++) {
            if (bytes[at] == '\n') {
                passed++;
            }
        }
        return at;
    }

    private static void cut(Path file, int length) throws IOException {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
            channel.truncate(length);
        }
    }
}
