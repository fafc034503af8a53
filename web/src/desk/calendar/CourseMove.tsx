import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useTranslation } from "react-i18next";
import { api, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Labelled } from "../../shared/Labelled";
import { useHere } from "../here";
import type { Booking, Target } from "./times";

type Props = { booking: Booking; to: Target; set: (to: Target) => void };

// CourseMove chooses what of a booked course is moved: the one meeting that was
// pressed, or all of it into another course.
export function CourseMove({ booking, to, set }: Props) {
  const { t } = useTranslation();
  const { today } = useHere();
  const path = { line: booking.line };
  const ask = { answers: {}, quantity: 1, people: booking.people, from: today, to: today };
  const others = useQuery({
    queryKey: ["move", "courses", booking.line],
    queryFn: () => take(api.POST("/api/desk/dockets/{line}/days", { params: { path }, body: ask })),
  });
  const one = "";
  return (
    <Labelled id="move-course" wording={t("What is moved")}>
      <Select
        id="move-course"
        value={to.course ?? one}
        onChange={(c) =>
          set(c === one ? { day: booking.day, meeting: booking.meeting } : { day: booking.day, course: c })
        }
        options={[
          {
            value: one,
            label: t("only meeting {{number}} of {{of}}", {
              number: booking.meeting,
              of: booking.meetings,
            }),
          },
          ...(others.data?.courses ?? []).map((c) => ({
            value: c.name,
            label: `${t("the whole of it, into {{name}}", { name: c.name })}: ${day(c.times[0]?.day ?? today, today)} – ${day(c.times.at(-1)?.day ?? today, today)}, ${t("{{count}} left", { count: c.left })}`,
          })),
        ]}
      />
    </Labelled>
  );
}
