import { useState } from "react";

interface PosterProps {
  filmId: string;
  /** Size and place; the same for the picture and for what stands in for it. */
  className: string;
  fit: "contain" | "cover";
}

/** A film's picture for lists. Where it cannot be brought its place stays empty. */
export function Poster({ filmId, className, fit }: PosterProps) {
  const [isMissing, setMissing] = useState(false);
  if (isMissing) return <div className={className} />;
  return (
    <img
      src={`/api/films/${filmId}/poster.jpg`}
      alt=""
      loading="lazy"
      onError={() => setMissing(true)}
      className={`${className} ${fit === "contain" ? "object-contain" : "object-cover"}`}
    />
  );
}
