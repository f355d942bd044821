/** Whether something lies where it can be seen, so that nothing is made for what has been scrolled away. */

import { useEffect, useState, type RefObject } from 'react'

export function useSeen(target: RefObject<HTMLElement | null>): boolean {
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    const element = target.current
    if (!element) return
    const observer = new IntersectionObserver((entries) =>
      setSeen(entries.some(({ isIntersecting }) => isIntersecting)),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [target])
  return seen
}
