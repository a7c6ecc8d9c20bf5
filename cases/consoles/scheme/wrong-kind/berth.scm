(define (price name fares)
  (cdr (assoc name fares)))

(define (total names fares)
  (apply + (map (lambda (n) (price n fares)) names)))

(display (total (list "car" "bike") (list (cons "car" 12))))
